"""The board, proposals, and thresholds."""

from django.urls import path

from .views import board, decide, overview

app_name = "decisions"
urlpatterns = [
    path("board/", board.board, name="board"),
    path("board/overview/", overview.overview, name="overview"),
    path("board/undo/", board.undo_last, name="undo_last"),
    path("clients/<int:pk>/decide/", decide.decide, name="decide"),
    path("clients/<int:pk>/decisions/<int:decision>/undo/", decide.undo, name="undo"),
    path("clients/<int:pk>/rules/", decide.rules, name="rules"),
]
