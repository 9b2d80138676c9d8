"""The composer by keyboard: from a client with targets to a published programme."""

import json
from datetime import timedelta

import pytest
from axe_playwright_python.sync_playwright import Axe
from django.utils import timezone
from playwright.sync_api import expect

from tests.browser.conftest import sign_in
from tests.browser.test_first_appointment import Hands
from tests.factories import PASSWORD, ClientFactory, item, publish_anyway, simple_document
from tests.rehearsing import until
from web.accounts.sessions import end_sessions
from web.programmes.drafting import save_draft
from web.programmes.queries import draft_document

#: A hundred keys.
SAID = "as strong as the ferry's own call, and not a breath longer than she wants it on a windy day at sea.."
#: The bar: key presses from a starting programme.
MOST_KEYS = 25


@pytest.fixture
def desk(page, site, clinician, person):
    """The composer of a client without a programme."""
    sign_in(page.context, site, clinician)
    page.goto(f"{site}/clients/{person.pk}/compose/")
    return page


def rows(page):
    return page.locator("[data-item] th").all_inner_texts()


def agree(page):
    """Confirm publishing."""
    page.locator("[data-confirm]").get_by_role("button", name="Prescribe").click()


def focused(page):
    return page.evaluate("document.activeElement.querySelector('th')?.innerText ?? ''")


def test_from_a_starting_programme_to_hand_over_in_25_keys(desk, person):
    hands = Hands(desk)
    hands.press("1")
    expect(desk.locator("[data-item]")).to_have_count(8)
    hands.press("ArrowDown")
    hands.press("ArrowDown")
    expect(desk.locator("[data-item]:focus")).to_contain_text("Straw in air")
    hands.press("]")  # One rung up.
    expect(desk.locator("[data-item]").nth(2).locator("td").nth(2)).to_have_text("9 s")
    hands.press("+")
    hands.types("quiet breath")
    hands.press("Enter")
    expect(desk.locator("[data-item]")).to_have_count(9)
    hands.press("Delete")
    expect(desk.locator("[data-item]")).to_have_count(8)
    expect(desk.locator("[data-item]:focus")).to_contain_text("Warm-up")
    hands.press("+")
    hands.types("descending")
    hands.press("Enter")
    expect(desk.locator("[data-item]:focus")).to_contain_text("Soft descending hum")
    for place in range(5, 8):
        hands.press("Alt+ArrowDown")
        desk.wait_for_function(
            "at => [...document.querySelectorAll('[data-item]')].indexOf(document.activeElement) === at",
            arg=place,
        )
    hands.press("h")
    expect(desk.get_by_text("The first programme of")).to_be_visible()
    hands.press("Enter")
    expect(desk.get_by_text("Handout, PDF")).to_be_visible()
    assert hands.pressed <= MOST_KEYS
    programme = person.programmes.get()
    assert programme.document["items"][7]["task"] == "descending_hum"
    assert programme.document["items"][2]["params"]["seconds"] == 9


def test_undo_and_redo_bring_everything_back(desk):
    desk.keyboard.press("2")
    desk.wait_for_selector("[data-item]")
    before = rows(desk)
    desk.keyboard.press("Delete")
    expect(desk.locator("[data-item]")).to_have_count(len(before) - 1)
    desk.keyboard.press("d")
    expect(desk.locator("[data-item]")).to_have_count(len(before))
    desk.keyboard.press("u")
    expect(desk.locator("[data-item]")).to_have_count(len(before) - 1)
    desk.keyboard.press("u")
    expect(desk.locator("[data-item]")).to_have_count(len(before))
    assert rows(desk) == before
    desk.keyboard.press("y")
    expect(desk.locator("[data-item]")).to_have_count(len(before) - 1)


def test_a_field_of_the_panel_and_a_fix(desk, person, site, clinician):
    save_draft(person, simple_document(item("strong_ah"), item("hum_hold")), by=clinician)
    desk.reload()
    desk.locator("[data-item]").first.focus()
    desk.keyboard.press("Enter")
    field = desk.locator('[name="floor"]')
    field.fill("6")
    field.press("Tab")
    finding = desk.locator(".finding-stop")
    expect(finding).to_contain_text("no safety ceiling")
    finding.locator("[data-do-fix]").click()
    expect(desk.locator(".finding-stop")).to_have_count(0)
    expect(desk.locator("[data-item]").first).to_contain_text("+6 to +16 dB")
    desk.locator('[name="notes"]').fill("H9")
    desk.locator('[name="notes"]').press("Tab")
    notes = desk.locator("label", has=desk.locator('[name="notes"]'))
    expect(notes).to_contain_text("“H9” is not a note")  # Next to the field itself.
    desk.get_by_role("button", name="Prescribe").click()
    expect(desk.locator('[name="notes"]')).to_have_value("H9")  # Nothing is prescribed.
    desk.locator('[name="notes"]').fill("F3")
    desk.locator('[name="notes"]').press("Tab")
    expect(desk.locator("[data-item]").first).to_contain_text("F3")
    expect(notes).not_to_contain_text("is not a note")


def test_a_starting_programme_asks_before_it_replaces_work_and_undo_reaches_back_over_it(
    desk, person, clinician
):
    save_draft(person, simple_document(item("strong_ah"), item("hum_hold")), by=clinician)
    desk.reload()
    before = rows(desk)
    desk.keyboard.press("3")
    sure = desk.locator("[data-sure]")
    expect(sure).to_contain_text("Replace the 2 tasks with")
    desk.keyboard.press("Escape")
    expect(sure).to_be_hidden()
    assert rows(desk) == before
    desk.keyboard.press("3")
    expect(sure).to_be_visible()
    # The page asks again before the browser reports that the last question was closed.
    desk.evaluate("""() => {
        document.querySelector("[data-sure]").close();
        document.body.dispatchEvent(new KeyboardEvent("keydown", { key: "3", bubbles: true }));
    }""")
    sure.get_by_role("button", name="Yes").click()
    expect(desk.locator("[data-item]")).to_have_count(10)
    desk.keyboard.press("u")
    expect(desk.locator("[data-item]")).to_have_count(2)
    assert rows(desk) == before
    desk.get_by_role("button", name="Discard the draft").click()
    sure.get_by_role("button", name="Yes").click()
    expect(desk.locator("[data-item]")).to_have_count(0)
    desk.keyboard.press("u")
    expect(desk.locator("[data-item]")).to_have_count(2)
    desk.reload()  # The draft is kept.
    assert rows(desk) == before


def test_keys_at_30_ms_land_where_they_were_typed(desk, person, clinician):
    save_draft(person, simple_document(item("strong_ah"), item("hum_hold")), by=clinician)
    desk.reload()
    desk.locator("[data-item]").first.focus()
    desk.keyboard.press("Enter")
    desk.locator('[name="floor"]').focus()
    spread = desk.locator('[name="limit:spread_cents"]')
    expect(spread).to_be_hidden()
    desk.locator("[data-panel] summary").click()
    desk.locator('[name="floor"]').focus()
    for key in ("3", "Tab", "1", "3"):
        desk.keyboard.press(key, delay=30)  # The pace that the bar is measured at.
    spread.focus()
    desk.keyboard.type("25", delay=30)
    expect(desk.locator('[name="floor"]')).to_have_value("3")
    expect(desk.locator('[name="ceiling"]')).to_have_value("13")
    expect(desk.locator("[data-item]").first).to_contain_text("+3 to +13 dB")
    expect(spread).to_have_value("25")
    expect(spread).to_be_focused()
    desk.keyboard.press("Tab")  # The previous edit is being sent while the next words are typed.
    reason = desk.locator('[data-panel] [name="reason"]')
    reason.fill("")
    desk.keyboard.type(SAID, delay=30)
    expect(reason).to_have_value(SAID)
    desk.keyboard.press("Escape")  # Leave the field.
    desk.get_by_role("button", name="Prescribe").click()  # Wait for the request in progress.
    agree(desk)
    expect(desk.get_by_text("Handout, PDF")).to_be_visible()
    (first, _) = person.programmes.get().document["items"]
    assert (first["floor"], first["ceiling"], first["limits"]["spread_cents"]) == (3, 13, 25)
    assert first["reason"] == SAID


def test_the_published_programme_is_the_one_on_the_screen(desk, person, clinician):
    save_draft(person, simple_document(item("strong_ah"), item("hum_hold")), by=clinician)
    desk.reload()
    desk.locator("[data-item]").first.focus()
    desk.keyboard.press("Delete")
    desk.get_by_role("button", name="Prescribe").click()  # The edit is still being sent.
    agree(desk)
    expect(desk.get_by_text("Handout, PDF")).to_be_visible()
    assert [each["task"] for each in person.programmes.get().document["items"]] == ["hum_hold"]


def test_before_a_hand_over_it_says_what_changes_and_asks_about_a_start_in_the_past(
    desk, person, clinician
):
    document = simple_document(item("strong_ah"), item("hum_hold"))
    publish_anyway(person, document, by=clinician)
    later = {**document, "items": document["items"][:1]}
    long_ago = timezone.localdate() - timedelta(days=15)
    later["dose"] = {**document["dose"], "a_day": 3, "start": long_ago.isoformat(), "weeks": 6}
    save_draft(person, later, by=clinician)
    desk.reload()
    desk.keyboard.press("h")
    asked = desk.locator("[data-confirm]")
    expect(asked).to_contain_text("removed: Hum, one note")
    expect(asked).to_contain_text("sessions a day: 2 → 3")
    expect(asked).to_contain_text("15 days ago: 4 of 6 weeks remain.")
    asked.get_by_role("button", name="Cancel").click()
    assert person.programmes.count() == 1
    desk.keyboard.press("h")
    asked.get_by_role("button", name="Start today").click()
    expect(asked).not_to_contain_text("days back")
    agree(desk)
    expect(desk.get_by_text("Handout, PDF")).to_be_visible()
    dose = person.programmes.order_by("version").last().document["dose"]
    assert (dose["start"], dose["a_day"]) == (timezone.localdate().isoformat(), 3)


def test_a_way_that_was_chosen_can_be_left_to_the_task_again(desk, person, clinician):
    save_draft(person, simple_document(item("hum_hold")), by=clinician)
    desk.reload()
    desk.locator("[data-item]").first.focus()
    desk.keyboard.press("Enter")
    way = desk.locator('[data-panel] [name^="choice:"]').first
    way.select_option(index=1)
    expect(desk.locator("[aria-busy=false]#stage")).to_be_visible()
    name = way.get_attribute("name").removeprefix("choice:")
    assert name in draft_document(person)["items"][0]["params"]
    way.select_option("")
    expect(desk.locator("[aria-busy=false]#stage")).to_be_visible()
    assert name not in draft_document(person)["items"][0]["params"]


def test_a_pattern_of_the_calculator_is_put_into_a_draft(page, site, clinician, person):
    sign_in(page.context, site, clinician)
    page.goto(f"{site}/calculators/?client={person.pk}")
    tool = page.locator("[data-tool=pattern]")
    for name, value in (("start", "D3"), ("rounds_down", "2"), ("bridge", "A3")):
        tool.locator(f"[name={name}]").fill(value)
    tool.locator("[name=breath]").select_option("catch")
    # Before the calculator has answered.
    tool.get_by_role("button", name="Add to").click()
    expect(
        page.get_by_text("The pattern was added as the last task of this draft.")
    ).to_be_visible()
    (made,) = draft_document(person)["items"]
    assert (made["notes"], made["pattern"]) == ([50], {"bridge": 57})
    assert (made["params"]["rounds_down"], made["params"]["tempo"]) == (2, 100)
    assert "catch" in made["params"]["between_groups"]
    page.goto(f"{site}/calculators/?client={person.pk}")
    tool.locator("[name=rounds_up]").fill("20")
    expect(tool).to_contain_text("24 rounds")
    tool.get_by_role("button", name="Add to").click()
    expect(page.get_by_text("The pattern was not added.")).to_be_visible()
    assert len(draft_document(person)["items"]) == 1


def test_edits_made_while_signed_out_are_sent_after_signing_in_again(desk, person, site, clinician):
    save_draft(person, simple_document(item("strong_ah"), item("hum_hold")), by=clinician)
    desk.reload()
    desk.locator("[data-item]").first.focus()
    end_sessions(clinician)
    desk.keyboard.press("Delete")
    expect(desk.locator("[data-problem]")).to_contain_text(
        "Sign in again in another tab: 1 change is waiting"
    )
    assert len(draft_document(person)["items"]) == 2
    other = desk.context.new_page()
    other.goto(f"{site}/sign-in/")
    other.fill("[name=username]", clinician.username)
    other.fill("[name=password]", PASSWORD)
    other.keyboard.press("Enter")
    other.wait_for_url("**/board/")
    expect(desk.locator("[data-problem]")).to_be_hidden()
    assert [each["task"] for each in draft_document(person)["items"]] == ["hum_hold"]


def test_a_row_is_dragged_to_another_place(desk, person, clinician):
    save_draft(
        person, simple_document(item("scalp"), item("water"), item("hum_hold")), by=clinician
    )
    desk.reload()
    lines = desk.locator("[data-item]")
    lines.nth(2).drag_to(lines.nth(0))
    expect(lines.nth(0)).to_contain_text("Hum, one note")


def test_sixty_items_stay_quick(desk, person, clinician):
    many = simple_document(*[item("hum_hold", id=f"i{n}", notes=[53]) for n in range(59)])
    save_draft(person, many, by=clinician)
    desk.reload()
    desk.locator("[data-item]").first.focus()
    taken = desk.evaluate(
        """async () => {
            const stage = document.getElementById("stage");
            const times = [];
            for (const key of ["]", "]", "[", "]", "["]) {
                const seen = new Promise((done) => new MutationObserver((_, watch) => {
                    watch.disconnect();
                    requestAnimationFrame(() => done(performance.now()));
                }).observe(stage, { childList: true, subtree: true }));
                const begun = performance.now();
                document.activeElement.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true }));
                times.push((await seen) - begun);
            }
            return times.sort((a, b) => a - b)[2];
        }"""
    )
    # The bar of 100 ms is measured by the benchmark on a quiet machine; this only catches runaway
    # times.
    assert taken < 1000, json.dumps(taken)


def test_the_composer_and_the_catalogue_have_no_violation(desk, site, person, clinician):
    save_draft(
        person, simple_document(item("strong_ah"), item("hum_hold", notes=[53])), by=clinician
    )
    for path in (f"clients/{person.pk}/compose/", f"clients/{person.pk}/programmes/", "catalogue/"):
        desk.goto(f"{site}/{path}")
        found = Axe().run(desk)
        assert found.violations_count == 0, found.generate_report()


def test_an_edit_that_is_on_its_way_arrives_also_where_the_page_is_left(desk, person, clinician):
    save_draft(person, simple_document(item("straw_hold"), item("hum_hold")), by=clinician)
    desk.reload()
    desk.locator("[data-item]").first.focus()
    with desk.expect_request("**/compose/edit/"):
        desk.keyboard.press("Delete")
        desk.locator("[data-back]").click()  # Leave at once.
    desk.wait_for_url(f"**/clients/{person.pk}/")
    assert until(
        lambda: len(draft_document(person)["items"]) == 1, 30
    )  # The page that could show the message is gone.
    desk.goto(desk.url + "compose/")
    expect(desk.locator("[data-item]")).to_have_count(1)


#: A full mixed session by search words; the bars of keys from an empty programme and from the
#: library.
MIXED = [
    "tall",
    "jaw",
    "hand",
    "steady",
    "straw",
    "lip tr",
    "five",
    "warm",
    "power",
    "strong",
    "ten",
    "soft",
]
MIXED_KEYS, LIBRARY_KEYS = 90, 8


def test_a_mixed_session_of_twelve_in_ninety_keys_and_from_the_library_in_eight(
    desk, site, person, clinician
):
    hands = Hands(desk)
    for place, words in enumerate(MIXED, start=1):
        hands.press("+")
        hands.types(words)
        hands.press("Enter")
        expect(desk.locator("[data-item]")).to_have_count(place)
    letters = sum(map(len, MIXED))
    assert [name.split(" ")[0] for name in rows(desk)] == [
        "Seated", "Jaw", "Hand", "Steady", "Straw", "Lip", "Five-note", "Warm-up:", "Power:",
        "Strong", "Ten", "Soft",
    ]  # fmt: skip
    assert hands.pressed + letters <= MIXED_KEYS
    desk.keyboard.press("k")
    keep = desk.get_by_role("dialog", name="Save to library")
    keep.get_by_label("Name").fill("Mixed")
    keep.get_by_role("button", name="Save to library").click()
    expect(desk.get_by_text("“Mixed” was saved to the library, version 1.")).to_be_visible()
    other = ClientFactory(clinic=person.clinic)
    desk.goto(f"{site}/clients/{other.pk}/compose/")
    hands = Hands(desk)
    hands.press("l")
    hands.types("mix")
    hands.press("Enter")
    expect(desk.locator("[data-item]")).to_have_count(12)
    assert hands.pressed + len("mix") <= LIBRARY_KEYS
    desk.keyboard.press("u")  # Undo restores it.
    expect(desk.locator("[data-item]")).to_have_count(0)


def test_a_programme_is_put_beside_and_taken_out(desk, person):
    desk.keyboard.press("1")
    expect(desk.locator("[data-item]")).to_have_count(8)
    desk.get_by_role("button", name="+ reset on a trigger").click()
    expect(desk.locator("[data-strand=reset] [data-item]")).to_have_count(1)
    about = desk.locator("[name='beside:reset:a_day']")
    about.fill("12")
    about.press("Tab")
    expect(desk.locator("[data-part=beside]")).to_contain_text("All together")
    desk.wait_for_function(
        "() => document.querySelector(\"[name='beside:reset:a_day']\").defaultValue === '12'"
    )
    desk.get_by_role("button", name="remove").click()
    expect(desk.locator("[data-strand=reset]")).to_have_count(0)
    desk.keyboard.press("u")
    expect(desk.locator("[data-strand=reset] [data-item]")).to_have_count(1)


def test_another_sound_and_another_shape_are_two_fields(desk):
    desk.keyboard.press("+")
    desk.keyboard.type("hum one")
    desk.keyboard.press("Enter")
    expect(desk.locator("[data-item]")).to_have_count(1)
    desk.keyboard.press("Enter")
    desk.locator("[name=sound_of]").select_option("lip_trill")
    expect(desk.locator("[data-item] th")).to_contain_text("Lip trill, one note")
    desk.locator("[name=shape_of]").select_option("growing")
    expect(desk.locator("[data-item] th")).to_contain_text("Lip trill: growing pattern")
    groups = desk.locator("[name='pattern:groups']")
    groups.fill("1 / 1x")
    groups.press("Tab")
    expect(
        desk.get_by_text("” is not a list of degrees. Example: 1 2 3 2 1 / 1 3 5 3 1.")
    ).to_be_visible()


def test_a_task_is_found_by_another_word_and_chosen_by_arrow(desk):
    desk.keyboard.press("+")
    desk.keyboard.type("massage")
    lines = desk.locator("[data-found] li")
    expect(lines.first).to_contain_text("found by “massage”")
    second = lines.nth(1).locator("strong").inner_text()
    desk.keyboard.press("ArrowDown")
    desk.keyboard.press("ArrowDown")
    desk.keyboard.press("ArrowUp")
    desk.keyboard.press("Enter")
    expect(desk.locator("[data-item] th")).to_have_text(second)
    desk.keyboard.press("+")
    desk.keyboard.type("zzzqq")
    expect(lines).to_have_text("Nothing found. Try another word, or part of one.")
    desk.keyboard.press("ArrowDown")
    desk.keyboard.press("Enter")
    desk.keyboard.press("Escape")
    expect(desk.locator("[data-item] th")).to_have_count(1)


def test_escape_closes_the_panel_and_never_leaves_a_draft(desk, site, person, clinician):
    save_draft(person, simple_document(item("straw_hold"), item("hum_hold")), by=clinician)
    desk.reload()
    desk.locator("[data-item]").first.focus()
    desk.keyboard.press("Enter")
    expect(desk.locator("[data-panel]")).to_be_visible()
    desk.keyboard.press("Escape")  # Leave the field.
    desk.keyboard.press("Escape")
    expect(desk.locator("[data-panel]")).to_have_count(0)
    desk.keyboard.press("Escape")
    close = desk.locator("[data-back]")
    expect(close).to_be_focused()
    assert desk.url.endswith("/compose/")
    desk.keyboard.press("Enter")
    desk.wait_for_url(f"**/clients/{person.pk}/")


def test_the_first_field_of_a_form_has_the_focus(desk, site, person):
    for path in (
        "clients/new/",
        f"clients/{person.pk}/record/change/",
        f"clients/{person.pk}/prescribe/",
        f"clients/{person.pk}/programmes/bring-in/",
        f"clients/{person.pk}/rules/",
    ):
        desk.goto(f"{site}/{path}")
        fields = "main form :is(input:not([type=hidden]), select, textarea)"
        expect(desk.locator(fields).first).to_be_focused()
    desk.goto(f"{site}/clients/new/")
    desk.keyboard.press("Enter")
    expect(desk.locator("[aria-invalid=true]").first).to_be_focused()
