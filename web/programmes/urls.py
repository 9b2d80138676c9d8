"""Prescribing."""

from django.urls import path

from .views import compose, handover, quick

app_name = "programmes"
urlpatterns = [
    path("programme.schema.json", handover.schema, name="schema"),
    path("<int:pk>/prescribe/", quick.prescribe, name="prescribe"),
    path("<int:pk>/compose/", compose.compose, name="compose"),
    path("<int:pk>/compose/edit/", compose.edit, name="edit"),
    path("<int:pk>/compose/pattern/", compose.from_calculator, name="from_calculator"),
    path("<int:pk>/compose/hand-over/", compose.confirm, name="confirm"),
    path("<int:pk>/compose/publish/", compose.publish, name="publish"),
    path("<int:pk>/programmes/", compose.versions, name="versions"),
    path("<int:pk>/programmes/bring-in/", handover.import_file, name="bring_in"),
    path("<int:pk>/programmes/accept/", handover.accept_file, name="accept_file"),
    path("<int:pk>/programmes/<int:version>/", handover.version, name="version"),
    path("<int:pk>/programmes/<int:version>/withdraw/", compose.withdraw, name="withdraw"),
    path("<int:pk>/programmes/<int:version>/again/", compose.republish, name="again"),
    path("<int:pk>/programmes/<int:version>/handout/", handover.handout, name="handout"),
    path("<int:pk>/programmes/<int:version>/handout.pdf", handover.handout_pdf, name="handout_pdf"),
    path("<int:pk>/programmes/<int:version>/practice.ics", handover.calendar, name="calendar"),
    path("<int:pk>/programme/keep/", compose.keep_in_library, name="keep_in_library"),
    path("<int:pk>/programmes/<int:version>/tones.mid", handover.tones_midi, name="tones_midi"),
    path(
        "<int:pk>/programmes/<int:version>/sounds/<int:number>.wav",
        handover.sound_wav,
        name="sound_wav",
    ),
    path("<int:pk>/programmes/<int:version>/programme.json", handover.as_json, name="as_json"),
]
