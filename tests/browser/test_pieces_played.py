"""Parts of sessions, composed with the composer's edits and played in the player with the simulated
voice. A share of them runs in every test run; `make pieces` plays all."""

import os

import pytest
from django.test import Client as DjangoBrowser

from reedcore.catalogue.tasks import shipped_tasks
from tests.browser.conftest import at, open_player, through
from tests.web.test_composer import send as edit
from tests.web.test_composer import type_edit
from tests.web.test_pieces import MET, NOT_MET, PIECES, end_published_draft
from web.programmes.queries import draft_document
from web.record.models import Trial

#: Playing a session takes long: play every fifteenth, or all of them in a long run.
SHARE = 1 if os.environ.get("PIECES") == "all" else 15
PLAYED = list(PIECES.values())[::SHARE]
#: Repeat nothing: once is enough here.
ONCE = ("reps", "cycles")


@pytest.fixture
def desk(clinician):
    browser = DjangoBrowser()
    browser.force_login(clinician, "django.contrib.auth.backends.ModelBackend")
    return browser


def compose_all(desk, person):
    """Compose all of them in one programme with their own edits."""
    for number, (code, fields, _) in enumerate(PLAYED):
        id = f"piece-{number}"
        sent = [{"do": "add_item", "id": id, "task": code, "after": None}]
        sent += [type_edit(id, name, said) for name, said in fields]
        assert edit(desk, person, *sent, first=100 * number + 1).json()["not_made"] == []
    once = [
        type_edit(item["id"], f"param:{name}", "1")
        for item in draft_document(person)["items"]
        for name in ONCE
        if name in item["params"] and not item["row"]
        if shipped_tasks()[item["task"]].parameters[name].lowest <= 1
    ]
    assert edit(desk, person, *once, first=100_000).json()["not_made"] == []
    return end_published_draft(person)


def test_pieces_are_played_and_judged_one_after_another(page, site, bass, desk):
    programme = compose_all(desk, bass)
    open_player(page, site, bass.account)
    at(page, "today")
    page.keyboard.press("1")
    at(page, "safety")
    page.keyboard.press("Space")

    def press(key):
        if page.evaluate("document.activeElement.id") == "count":
            page.keyboard.press("Tab")  # Leave the field for the button next to it.
        page.keyboard.press(key)

    through(page, press, seconds=90 * len(PLAYED))
    wrong = {}
    for (code, fields, comes_out), item in zip(PLAYED, programme.document["items"], strict=True):
        trials = Trial.objects.filter(task__programme=programme, task__item_id=item["id"])
        outcomes = {trial.outcome for trial in trials}
        wanted = {comes_out} if comes_out in (MET, NOT_MET) else {"not_judged"}
        if outcomes != wanted or not trials.exists():
            wrong[code, str(fields)] = [(each.outcome, each.parts, each.figures) for each in trials]
    assert not wrong
