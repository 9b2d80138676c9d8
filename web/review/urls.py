"""Looking back and deciding."""

from django.urls import path

from .views import board, client, decide

app_name = "review"
urlpatterns = [
    path("board/", board.board, name="board"),
    path("board/undo/", board.undo_last, name="undo_last"),
    path("clients/<int:pk>/", client.client, name="client"),
    path("clients/<int:pk>/decide/", decide.decide, name="decide"),
    path("clients/<int:pk>/decisions/<int:decision>/undo/", decide.undo, name="undo"),
    path("clients/<int:pk>/rules/", decide.rules, name="rules"),
    path("clients/<int:pk>/tries.csv", client.tries_csv, name="tries_csv"),
]
