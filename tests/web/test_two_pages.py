"""Two pages on one draft: independent edits are merged, conflicts are reported, nothing is lost."""

import pytest
from django.test import Client as Browser
from django.urls import reverse

from tests.factories import ClinicianFactory, item, simple_document, trial
from tests.web.test_composer import hand_over, send, type_edit
from tests.web.test_deciding import decide, practise
from web.programmes.actions import publish_document
from web.programmes.drafting import save_draft
from web.programmes.models import Draft, DraftChange
from web.programmes.queries import draft_document, edition_of
from web.record.programmes import current_programme

THEIRS = "another-page-there"


@pytest.fixture
def draft(person, clinician):
    """A draft with two tasks in the composer."""
    save_draft(person, simple_document(item("straw_hold", notes=[53]), item("scalp")), by=clinician)
    return person


@pytest.fixture
def colleague(clinic):
    browser = Browser()
    browser.force_login(ClinicianFactory(clinic=clinic, first_name="Berit", last_name="Holm"))
    return browser


def items(person):
    return {each["id"]: each for each in draft_document(person)["items"]}


def test_edits_of_two_pages_that_do_not_touch_are_both_made(as_clinician, colleague, draft):
    seen = edition_of(draft)
    send(colleague, draft, type_edit("straw-hold", "param:seconds", "9"), page=THEIRS)
    sent = [type_edit("straw-hold", "notes", "G3"), {"do": "remove_item", "item": "scalp"}]
    assert send(as_clinician, draft, *sent, seen=seen).json()["not_made"] == []
    (only,) = items(draft).values()
    assert (only["params"]["seconds"], only["notes"]) == (9, [55])


def test_a_conflicting_later_edit_names_the_other_one_and_can_still_be_made(
    as_clinician, colleague, draft
):
    seen = edition_of(draft)
    send(colleague, draft, type_edit("straw-hold", "param:seconds", "9"), page=THEIRS)
    mine = type_edit("straw-hold", "param:seconds", "12")
    answer = send(as_clinician, draft, mine, seen=seen).json()
    (why,) = answer["not_made"]
    assert why["clash"]
    assert why["sentence"] == (
        "Berit Holm changed seconds of task 1, “Straw in air, one note”, to 9 while you were editing."
    )
    assert items(draft)["straw-hold"]["params"]["seconds"] == 9
    again = send(as_clinician, draft, mine, seen=answer["edition"], first=2, sure=True).json()
    assert again["not_made"] == []
    assert items(draft)["straw-hold"]["params"]["seconds"] == 12


def test_an_edit_of_a_removed_task_offers_to_restore_it(as_clinician, colleague, draft):
    seen = edition_of(draft)
    send(colleague, draft, {"do": "remove_item", "item": "straw-hold"}, page=THEIRS)
    mine = type_edit("straw-hold", "lines", "Good evening")
    (why,) = send(as_clinician, draft, mine, seen=seen).json()["not_made"]
    assert (why["clash"], why["gone"]) == (True, "straw-hold")
    assert "Berit Holm removed “Straw in air, one note” from" in why["sentence"]
    back = {"do": "bring_back", "item": "straw-hold"}
    assert send(as_clinician, draft, back, mine, first=2).json()["not_made"] == []
    assert list(items(draft)) == ["straw-hold", "scalp"]
    assert items(draft)["straw-hold"]["notes"] == [53]
    assert items(draft)["straw-hold"]["lines"] == ["Good evening"]


def test_an_edit_that_is_sent_twice_is_made_once(as_clinician, draft):
    once = {"do": "climb_rung", "item": "straw-hold", "by": 1}
    for _ in range(3):
        send(as_clinician, draft, once, first=7)
    assert items(draft)["straw-hold"]["params"]["seconds"] == 9.0


def test_both_taking_the_same_task_out_is_no_quarrel(as_clinician, colleague, draft):
    seen, out = edition_of(draft), {"do": "remove_item", "item": "scalp"}
    send(colleague, draft, out, page=THEIRS)
    assert send(as_clinician, draft, out, seen=seen).json()["not_made"] == []


def test_undo_takes_back_what_this_page_did_and_leaves_the_others_be(
    as_clinician, colleague, draft
):
    before = draft_document(draft)
    send(
        as_clinician,
        draft,
        type_edit("straw-hold", "param:seconds", "12"),
        {"do": "start", "code": "block"},
    )
    send(colleague, draft, type_edit("block-7", "reason", "for the stage"), page=THEIRS)
    undone = {"do": "undo"}
    (why,) = send(as_clinician, draft, undone, first=3).json()["not_made"]
    assert "Berit Holm changed reason of task 7" in why["sentence"]
    sent = send(as_clinician, draft, undone, first=4, sure=True).json()
    assert sent["not_made"] == []
    assert items(draft)["straw-hold"]["params"]["seconds"] == 12
    assert send(as_clinician, draft, undone, first=5).json()["not_made"] == []
    assert draft_document(draft)["items"] == before["items"]
    assert send(as_clinician, draft, {"do": "redo"}, first=6).json()["not_made"] == []
    assert items(draft)["straw-hold"]["params"]["seconds"] == 12
    (why,) = send(colleague, draft, undone, page=THEIRS, first=9).json()["not_made"]
    # Her change was undone with the start; undoing it again would concern a removed item.
    assert why["clash"]


def test_a_polling_page_receives_only_what_is_new(as_clinician, colleague, draft):
    url, seen = reverse("programmes:edit", args=[draft.pk]), edition_of(draft)
    assert as_clinician.get(url, {"seen": seen}).status_code == 204
    send(colleague, draft, type_edit("scalp", "reason", "her neck is tight"), page=THEIRS)
    fresh = as_clinician.get(url, {"seen": seen, "chosen": "scalp"}).json()
    assert fresh["edition"] == seen + 1
    assert "her neck is tight" in fresh["stage"]


def test_the_published_version_is_the_one_shown_on_the_page(as_clinician, colleague, draft):
    seen = edition_of(draft)
    send(colleague, draft, type_edit("straw-hold", "param:seconds", "9"), page=THEIRS)
    page = hand_over(as_clinician, draft, seen=seen).content.decode()
    assert (
        "Nothing was prescribed: another person changed the draft. Check the current draft below and prescribe it again."
        in page
    )
    assert not draft.programmes.exists()
    hand_over(as_clinician, draft)
    assert draft.programmes.get().document["items"][0]["params"]["seconds"] == 9


def test_edits_made_while_a_colleague_published_are_in_a_new_draft(as_clinician, colleague, draft):
    seen = edition_of(draft)
    hand_over(colleague, draft)
    answer = send(as_clinician, draft, type_edit("scalp", "reason", "slowly"), seen=seen).json()
    assert answer["not_made"] == []
    assert "Programme 1" in answer["stage"]
    assert "This is a draft" in answer["stage"]
    assert items(draft)["scalp"]["reason"] == "slowly"


def test_a_proposal_that_is_taken_does_not_cost_the_draft(as_clinician, person, prescribed):
    practise(prescribed)
    send(
        as_clinician, person, type_edit("straw-hold", "reason", "mine"), type_edit("", "weeks", "9")
    )
    decide(as_clinician, person, "advance")
    assert current_programme(person).document["items"][0]["params"]["seconds"] == 9.0
    held = items(person)["straw-hold"]
    assert (held["params"]["seconds"], held["reason"]) == (9.0, "mine")
    assert draft_document(person)["dose"]["weeks"] == 9


def test_a_conflicting_change_leaves_the_draft_as_it_is(as_clinician, person, prescribed):
    practise(prescribed)
    send(as_clinician, person, type_edit("straw-hold", "param:seconds", "3"))
    decide(as_clinician, person, "advance")
    assert current_programme(person).version == 2
    assert items(person)["straw-hold"]["params"]["seconds"] == 3


def test_changes_are_kept_for_a_week_after_publishing(draft, clinician):
    DraftChange.objects.update(made_at="2026-01-01T00:00Z")
    publish_document(draft, simple_document(), by=clinician)
    (last,) = DraftChange.objects.filter(client=draft)
    assert last.action == DraftChange.Action.HANDED_OVER
    assert edition_of(draft) == last.edition


def test_a_draft_of_the_version_before_is_gone_on_with(as_clinician, person, clinician):
    """It has an edition and no stored changes."""
    Draft.objects.create(client=person, document=simple_document(), changed_by=clinician, edition=7)
    answer = send(as_clinician, person, type_edit("straw-hold", "reason", "later"), seen=7).json()
    assert (answer["edition"], answer["not_made"]) == (8, [])
    assert send(as_clinician, person, {"do": "undo"}, first=2).json()["not_made"] == []
    assert items(person)["straw-hold"]["reason"] != "later"


def test_steps_of_the_clients_own_go_from_their_best_to_the_goal(as_clinician, measured):
    by = measured.baselines.get().begun_by
    save_draft(measured, simple_document(item("hum_hold", params={"seconds": 10})), by=by)
    own = {"do": "own_rungs", "item": "hum-hold"}
    (why,) = send(as_clinician, measured, own).json()["not_made"]
    assert (
        "Individual steps need a best result from the last 14 days and a goal." in why["sentence"]
    )
    version = publish_document(measured, draft_document(measured), by=by)
    for seconds in (11.0, 12.2, 11.5, 10.9):
        trial(version.tasks.get(), total_s=seconds)
    assert send(as_clinician, measured, own, first=2).json()["not_made"] == []
    held = items(measured)["hum-hold"]
    assert held["rungs"][:4] == [12.0, 13.0, 14.5, 16.0]
    assert held["rungs"][-1] == 30.0
    up = {"do": "climb_rung", "item": "hum-hold", "by": 1}
    send(as_clinician, measured, up, up, first=3)
    assert items(measured)["hum-hold"]["params"]["seconds"] == 13.0
    send(as_clinician, measured, own, up, first=5)  # Back to the clinic's list.
    assert items(measured)["hum-hold"]["rungs"] == []
    assert items(measured)["hum-hold"]["params"]["seconds"] == 14.0
