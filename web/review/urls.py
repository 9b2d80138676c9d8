"""Looking back and deciding."""

from django.urls import path

from .views import board, client, compare, data, decide, field, notes, reminders

app_name = "review"
urlpatterns = [
    path("board/", board.board, name="board"),
    path("board/undo/", board.undo_last, name="undo_last"),
    path("reminders/off/<str:token>/", reminders.reminders_off, name="reminders_off"),
    path("practice-without-names/", data.audit, name="audit"),
    path("practice-without-names/columns.csv", data.audit_dictionary, name="audit_dictionary"),
    path("practice.schema.json", data.practice_schema, name="practice_schema"),
    path("clients/<int:pk>/", client.client, name="client"),
    path("clients/<int:pk>/compare/", compare.compare, name="compare"),
    path("clients/<int:pk>/field/", field.field, name="field"),
    path("clients/<int:pk>/decide/", decide.decide, name="decide"),
    path("clients/<int:pk>/decisions/<int:decision>/undo/", decide.undo, name="undo"),
    path("clients/<int:pk>/rules/", decide.rules, name="rules"),
    path("clients/<int:pk>/figures/", data.data, name="data"),
    path("clients/<int:pk>/tries.csv", data.tries_csv, name="tries_csv"),
    path("clients/<int:pk>/sessions.csv", data.sessions_csv, name="sessions_csv"),
    path("clients/<int:pk>/programme.csv", data.programme_csv, name="programme_csv"),
    path("clients/<int:pk>/practice.json", data.practice_json, name="practice_json"),
    path("clients/<int:pk>/fhir.json", data.fhir_json, name="fhir_json"),
    path("clients/<int:pk>/notes/", notes.notes, name="notes"),
    path("clients/<int:pk>/notes/new/", notes.new, name="new_note"),
    path("clients/<int:pk>/notes/<int:note>/", notes.note, name="note"),
    path("clients/<int:pk>/notes/<int:note>/discard/", notes.discard, name="discard_note"),
    path("clients/<int:pk>/notes/<int:note>/sign/", notes.sign, name="sign_note"),
    path("clients/<int:pk>/notes/<int:note>/add/", notes.add, name="add_to_note"),
    path("clients/<int:pk>/notes/<int:note>.pdf", notes.note_pdf, name="note_pdf"),
]
