"""The catalogue."""

from django.urls import path

from .views import library, tasks

app_name = "catalogue"
urlpatterns = [
    path("", tasks.catalogue, name="all"),
    path("own/", tasks.add_own, name="add_own"),
    path("own/plain/", tasks.add_plain, name="add_plain"),
    path("library/", library.library, name="library"),
    path("library/lines/", library.add_lines, name="add_lines"),
    path("library/pictures/", library.upload_picture, name="upload_picture"),
    path("library/<int:pk>/put-away/", library.put_entry_away, name="put_away"),
    path("<slug:code>/hide/", tasks.hide, name="hide"),
]
