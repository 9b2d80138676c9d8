"""The list of clients, the record, and the practice links."""

from django.urls import path

from .views import links, record

app_name = "clients"
urlpatterns = [
    path("", record.client_list, name="list"),
    path("new/", record.new, name="new"),
    path("<int:pk>/record/change/", record.record, name="record"),
    path("<int:pk>/archive/", record.archive, name="archive"),
    path("<int:pk>/restore/", record.restore, name="restore"),
    path("<int:pk>/practice-link/", links.practice_link, name="practice_link"),
    path("<int:pk>/helpers/", links.add_helper, name="add_helper"),
    path("<int:pk>/helpers/<int:helper>/", links.helper, name="helper"),
]
