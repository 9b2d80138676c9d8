"""Open files."""

from django.urls import path

from . import views

app_name = "exports"
urlpatterns = [
    path("practice-without-names/", views.export_deidentified, name="without_names"),
    path(
        "practice-without-names/columns.csv",
        views.without_names_columns,
        name="without_names_columns",
    ),
    path("practice.schema.json", views.practice_schema, name="practice_schema"),
    path("clients/<int:pk>/export/", views.client, name="client"),
    path("clients/<int:pk>/tries.csv", views.tries_csv, name="tries_csv"),
    path("clients/<int:pk>/sessions.csv", views.sessions_csv, name="sessions_csv"),
    path("clients/<int:pk>/programme.csv", views.programme_csv, name="programme_csv"),
    path("clients/<int:pk>/practice.json", views.practice_json, name="practice_json"),
    path("clients/<int:pk>/fhir.json", views.fhir_json, name="fhir_json"),
    path("clients/<int:pk>/all.zip", views.archive, name="archive"),
]
