"""Two clinicians' browsers on one draft: no edit is lost, and both show the published programme.
This includes broken connections and lost answers."""

import json
import os
import random

import pytest
from playwright.sync_api import TimeoutError, expect

from tests.browser.conftest import sign_in
from tests.factories import ClinicianFactory, item, simple_document
from web.programmes.drafting import save_draft
from web.programmes.models import DraftChange
from web.programmes.queries import draft_document, edition_of

#: Edits per browser; two hundred with `make walks`.
EDITS = int(os.environ.get("EDITS", "24"))
CODES = ("straw_hold", "hum_hold", "strong_ah", "scalp", "water", "sit_tall")
#: The page has no request in progress.
ARRIVED = "() => document.getElementById('stage').ariaBusy !== 'true'"
QUIET = """() => !document.querySelector('[data-not-made] li') &&
    document.querySelector('[data-problem]').hidden"""


@pytest.fixture
def desks(browser, site, clinician, clinic, person):
    """Two composers of one client, in browsers of two clinicians."""
    many = [item(code, id=f"i{at}-{turn}") for turn in range(2) for at, code in enumerate(CODES)]
    save_draft(person, simple_document(*many), by=clinician)
    colleague = ClinicianFactory(clinic=clinic, first_name="Berit", last_name="Holm")
    contexts = [browser.new_context(), browser.new_context()]
    pages = []
    for context, who in zip(contexts, (clinician, colleague), strict=True):
        sign_in(context, site, who)
        pages.append(context.new_page())
        pages[-1].goto(f"{site}/clients/{person.pk}/compose/")
    yield pages
    for context in contexts:
        context.close()


def pick(page, at):
    row = page.locator("[data-item]").nth(at % max(1, page.locator("[data-item]").count()))
    row.evaluate("row => row.focus()")


def type_reason(page, words):
    """Type the reason into the panel of the focused task; return False if the task is gone
    meanwhile.

    A panel that a slow machine left open is used as it stands, so that pace changes no walk."""
    if not page.locator("[data-panel]").count():
        page.keyboard.press("Enter")
    field = page.locator('[data-panel] [name="reason"]')
    try:
        field.fill(words, timeout=3000)
    except TimeoutError:  # The other one has just removed it.
        return False
    field.press("Tab")
    page.locator("[data-item][aria-selected]").evaluate("row => row.focus()")
    page.keyboard.press("Enter")
    return True


def one_edit(page, hand, place, typed):
    """Press a random key or type into a random field; record typed text."""
    keys = ("]", "[", "s", "w", "Alt+ArrowDown", "Alt+ArrowUp", "d", "Delete", "u", "y")
    weights = (4, 4, 4, 4, 3, 3, 1, 1, 1, 1)
    rows = page.locator("[data-item]").count()
    if rows < 6:
        return page.keyboard.press("d")
    pick(page, hand.randrange(rows))
    if place % 5 == 0:
        words = f"said {len(typed)} {hand.getrandbits(40)}"
        return typed.append(words) if type_reason(page, words) else None
    (key,) = hand.choices(keys, weights)
    return page.keyboard.press(key if rows < 40 or key != "d" else "s")


def resolve_conflicts(page, hand):
    """Apply rejected edits anyway, or dismiss rejected keys."""
    lines = page.locator("[data-not-made] li")
    while lines.count():
        line = lines.first
        buttons = line.locator("button")
        wants = "You typed" in line.inner_text() or hand.random() < 0.5
        buttons.nth(0 if wants else buttons.count() - 1).click()


def shown(page):
    return page.locator("[data-rows] > [data-item]").evaluate_all(
        "rows => rows.map((row) => [row.dataset.item, row.innerText])"
    )


@pytest.mark.parametrize("seed", [7])
def test_two_browsers_with_random_edits_lose_nothing_and_end_alike(desks, person, seed):
    hands = [random.Random(seed), random.Random(seed + 100)]  # noqa: S311  # a walk, no secret
    typed = [[], []]
    for place in range(EDITS):
        for at, page in enumerate(desks):
            one_edit(page, hands[at], place, typed[at])
            if place % 5 == 4:
                resolve_conflicts(page, hands[at])
    for _ in range(3):  # Publishing anyway may conflict with the other page once more.
        for at, page in enumerate(desks):
            page.wait_for_function(ARRIVED)
            resolve_conflicts(page, hands[at])
    for page in desks:
        page.wait_for_function(QUIET)
        if page.locator("[data-panel]").count():
            page.locator("[data-item][aria-selected]").dblclick()
    stands, edition = draft_document(person), edition_of(person)
    for page in desks:
        page.wait_for_function(
            "edition => document.querySelector('[name=seen]').value === edition", arg=str(edition)
        )
    assert shown(desks[0]) == shown(desks[1])
    made = [json.dumps(each.changes) for each in DraftChange.objects.filter(client=person)]
    lost = [words for each in typed for words in each if not any(words in one for one in made)]
    assert sum(map(len, typed)) > EDITS // 10, "too few words came through to say anything"
    assert lost == []
    desks[0].get_by_role("button", name="Prescribe").click()
    desks[0].locator("[data-confirm]").get_by_role("button", name="Prescribe").click()
    expect(desks[0].get_by_text("Handout, PDF")).to_be_visible()
    assert person.programmes.get().document["items"] == stands["items"]


def test_edits_made_offline_are_sent_after_reconnecting(desks, person):
    page = desks[0]
    page.context.set_offline(True)
    pick(page, 0)
    page.keyboard.press("]")
    page.keyboard.press("w")
    expect(page.locator("[data-problem]")).to_contain_text("2 changes are waiting on this page")
    page.context.set_offline(False)
    expect(page.locator("[data-problem]")).to_be_hidden()
    first = draft_document(person)["items"][0]
    assert (first["params"]["seconds"], first["sip"]) == (9.0, True)


def test_an_answer_that_never_came_makes_no_edit_twice(desks, person):
    page = desks[0]
    lost = []

    def swallow(route):
        if route.request.method == "POST" and not lost:
            lost.append(route.fetch())  # It arrives, and its answer is lost.
            return route.abort()
        return route.continue_()

    page.route("**/compose/edit/*", swallow)
    pick(page, 0)
    page.keyboard.press("]")
    expect(page.locator("[data-problem]")).to_contain_text("1 change is waiting")
    expect(page.locator("[data-problem]")).to_be_hidden()
    assert lost
    assert draft_document(person)["items"][0]["params"]["seconds"] == 9.0


def test_a_quarrel_is_shown_with_both_and_settled_by_a_key(desks, person):
    mine, theirs = desks
    # My page does not fetch changes meanwhile.
    mine.route("**/compose/edit/?seen=*", lambda route: route.abort())
    for page, said in ((theirs, "9"), (mine, "12")):
        pick(page, 0)
        page.keyboard.press("Enter")
        page.locator('[name="param:seconds"]').fill(said)
    # Both were typed on the same state; theirs arrives first.
    theirs.locator('[name="param:seconds"]').press("Tab")
    expect(theirs.locator("[data-item]").first).to_contain_text("next 10 s")
    mine.locator('[name="param:seconds"]').press("Tab")
    line = mine.locator("[data-not-made] li")
    expect(line).to_contain_text("Berit Holm changed seconds of task 1")
    expect(line).to_contain_text("You typed: “12”.")
    line.get_by_role("button", name="Keep theirs").click()
    expect(mine.locator('[name="param:seconds"]')).to_have_value("9")
    mine.locator('[name="param:seconds"]').fill("12")  # Confirm it, now that theirs is visible.
    mine.locator('[name="param:seconds"]').press("Tab")
    expect(mine.locator("[data-item]").first).to_contain_text("12 s")
    # Without a key press of hers.
    expect(theirs.locator("[data-item]").first).to_contain_text("12 s")
