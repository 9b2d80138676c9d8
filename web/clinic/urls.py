"""The clinic's settings and people, and pages for its lead only."""

from django.urls import path

from .views import people, retention, settings

app_name = "clinic"
urlpatterns = [
    path("clinic/", settings.clinic, name="clinic"),
    path("clinic/reference/", settings.add_reference, name="add_reference"),
    path("clinic/reference/<int:pk>/remove/", settings.remove_reference, name="remove_reference"),
    path("people/", people.people, name="people"),
    path("opened/", retention.access_log_page, name="opened"),
    path("erased/", retention.erasures_page, name="erased"),
    path("<int:pk>/erase/", retention.erase, name="erase"),
    path("<int:pk>/keep/", retention.keep, name="keep"),
    path("people/invite/", people.invite, name="invite"),
    path("people/<int:pk>/link/", people.new_link, name="new_link"),
    path("people/<int:pk>/reset-two-step/", people.reset_second_step, name="reset_second_step"),
    path("people/<int:pk>/deactivate/", people.deactivate, name="deactivate"),
    path("people/<int:pk>/reactivate/", people.reactivate, name="reactivate"),
    path("people/<int:pk>/role/", people.role, name="role"),
    path("people/cover/", people.cover, name="cover"),
    path("people/cover/<int:pk>/end/", people.end_cover, name="end_cover"),
    path("<int:pk>/shared/", people.share_record, name="shared"),
]
