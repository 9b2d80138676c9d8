"""Notes and reports."""

from django.urls import path

from .views import letter
from .views import notes as views

app_name = "notes"
urlpatterns = [
    path("clients/<int:pk>/notes/", views.notes, name="notes"),
    path("clients/<int:pk>/notes/new/", views.new, name="new_note"),
    path("clients/<int:pk>/notes/<int:note>/", views.note, name="note"),
    path("clients/<int:pk>/notes/<int:note>/discard/", views.discard, name="discard_note"),
    path("clients/<int:pk>/notes/<int:note>/sign/", views.sign, name="sign_note"),
    path("clients/<int:pk>/notes/<int:note>/add/", views.add, name="add_to_note"),
    path("clients/<int:pk>/letter/", letter.letter, name="letter"),
    path("clients/<int:pk>/letter.pdf", letter.letter_pdf, name="letter_pdf"),
    path("clients/<int:pk>/notes/<int:note>.pdf", views.note_pdf, name="note_pdf"),
]
