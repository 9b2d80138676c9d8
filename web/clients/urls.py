"""The list of clients, and all that is known of one."""

from django.urls import path

from .consumers import BaselineTake
from .views import baseline, clinic, guarding, links, people, record, screening, targets

app_name = "clients"
urlpatterns = [
    path("", record.client_list, name="list"),
    path("new/", record.new, name="new"),
    path("clinic/", clinic.clinic, name="clinic"),
    path("clinic/reference/", clinic.add_reference, name="add_reference"),
    path("clinic/reference/<int:pk>/remove/", clinic.remove_reference, name="remove_reference"),
    path("<int:pk>/record/", record.summary, name="summary"),
    path("<int:pk>/record/change/", record.record, name="record"),
    path("<int:pk>/archive/", record.archive, name="archive"),
    path("<int:pk>/restore/", record.restore, name="restore"),
    path("people/", people.people, name="people"),
    path("opened/", guarding.opened, name="opened"),
    path("erased/", guarding.erased, name="erased"),
    path("<int:pk>/erase/", guarding.erase, name="erase"),
    path("<int:pk>/keep/", guarding.keep, name="keep"),
    path("people/invite/", people.invite, name="invite"),
    path("people/<int:pk>/link/", people.new_link, name="new_link"),
    path("people/<int:pk>/second-lost/", people.forget_second, name="forget_second"),
    path("people/<int:pk>/leave/", people.leave, name="leave"),
    path("people/<int:pk>/role/", people.role, name="role"),
    path("people/cover/", people.cover, name="cover"),
    path("people/cover/<int:pk>/end/", people.end_cover, name="end_cover"),
    path("<int:pk>/shared/", people.shared, name="shared"),
    path("<int:pk>/practice-link/", links.practice_link, name="practice_link"),
    path("<int:pk>/helpers/", links.add_helper, name="add_helper"),
    path("<int:pk>/helpers/<int:helper>/", links.helper, name="helper"),
    path("<int:pk>/screen/", screening.screen, name="screen"),
    path("<int:pk>/screen/safe/", screening.declare_safe, name="declare_safe"),
    path("<int:pk>/stops/<uuid:key>/clear/", screening.clear_stop, name="clear_stop"),
    path("<int:pk>/screen/refer/", screening.refer, name="refer"),
    path("<int:pk>/letter/", screening.letter, name="letter"),
    path("<int:pk>/letter.pdf", screening.letter_pdf, name="letter_pdf"),
    path("<int:pk>/baselines/", baseline.baselines, name="baselines"),
    path("<int:pk>/targets/", targets.targets, name="targets"),
    path("<int:pk>/targets/decide/", targets.decide, name="decide_target"),
    path("baselines/<int:pk>/", baseline.sheet, name="baseline"),
    path("baselines/<int:pk>/close/", baseline.close, name="close_baseline"),
    path("baselines/<int:pk>/calibrate/", baseline.calibrate, name="calibrate"),
    path("baselines/<int:pk>/spirometer/", baseline.spirometer, name="spirometer"),
    path("baselines/<int:pk>/<slug:step>/typed/", baseline.typed, name="baseline_typed"),
    path("baselines/<int:pk>/<slug:step>/entries/", baseline.entries, name="baseline_entries"),
    path(
        "baselines/<int:pk>/<slug:step>/recording/", baseline.recording, name="baseline_recording"
    ),
    path(
        "baselines/<int:pk>/<slug:step>/simulated.wav",
        baseline.simulated,
        name="baseline_simulated",
    ),
    path("baseline-trials/<uuid:key>/<slug:what>/", baseline.trial, name="baseline_trial"),
]

websocket_urlpatterns = [
    path("clients/baselines/<int:pk>/<slug:step>/take/", BaselineTake.as_asgi()),
]
