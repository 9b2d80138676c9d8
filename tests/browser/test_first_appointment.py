"""The first appointment from a new client to accepted targets, by keyboard only."""

import uuid

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import expect

from reedcore.baseline.steps import STEPS
from tests.browser.conftest import sign_in
from tests.factories import baseline
from web.baseline.actions import record_sound
from web.baseline.simulated import simulated_take
from web.clients.models import Client

#: The bar: key presses besides free text.
MOST_KEYS = 40


class Hands:
    """Counts every key press; text typed into a field is free."""

    def __init__(self, page):
        self.page, self.pressed = page, 0

    def press(self, key):
        self.page.keyboard.press(key)
        self.pressed += 1

    def types(self, text):
        self.page.keyboard.type(text)


@pytest.fixture
def desk(page, site, clinician):
    """The clinician's browser, signed in, at the list of clients."""
    sign_in(page.context, site, clinician)
    page.goto(f"{site}/clients/")
    return page


def at_step(page, code):
    expect(page.locator(f'[data-step="{code}"]')).to_be_attached()
    page.wait_for_load_state()  # Count its keys too.


def take(hands, step, number):
    """Record one trial of a step with the simulated client, until its figures are shown."""
    hands.press("Space")
    page = hands.page
    last = number == step.required_trials
    following = next(s.code for s in STEPS[STEPS.index(step) + 1 :])
    if last and step.code != "calibration":
        at_step(page, following)
    else:
        expect(page.locator("#stage table tr")).to_have_count(number)


def to_baseline(page, hands):
    """Go from the list of clients to the calibration: a new client, screened."""
    hands.press("n")
    page.wait_for_selector("#id_name")
    page.locator("#id_name").focus()
    hands.types("Wenna Astley")
    hands.press("Enter")
    page.wait_for_selector("[data-here]")
    hands.press("0")
    # The complaint, the larynx and surgery are still asked one by one.
    unanswered = page.locator("[data-question]:not(:has(input:checked))").locator("visible=true")
    expect(unanswered).to_have_count(4)
    for _ in range(4):
        hands.press("n")
    expect(unanswered).to_have_count(0)
    hands.press("Enter")
    expect(page.get_by_text("No red flags reported.")).to_be_visible()
    page.wait_for_load_state()
    hands.press("g")
    at_step(page, "taken")
    hands.types("coffee at eight")
    hands.press("Enter")
    at_step(page, "calibration")
    hands.press("m")  # A synthetic voice.


def record(page, hands, steps):
    """Record every trial of these steps."""
    for step in steps:
        at_step(page, step.code)
        if step.capture.is_heard:
            for number in range(1, step.required_trials + 1):
                take(hands, step, number)
        if step.code == "calibration":
            page.wait_for_selector("#id_meter_db_spl")
            hands.press("Enter")
        elif step.code == "range":
            hands.types("C3")
            hands.press("Tab")
            hands.types("C4")
            hands.press("Enter")
        elif step.code == "effort":
            hands.types("5")
            hands.press("Enter")
        elif step.code == "volume":
            hands.press("v")


def to_targets(page, hands, client):
    """Finish the sheet and accept its targets."""
    at_step(page, "rating")
    page.locator("[data-title]").evaluate("title => title.focus()")
    hands.press("f")
    page.wait_for_selector("[data-target]")
    page.wait_for_load_state()
    hands.press("a")
    expect(page.get_by_text("targets accepted")).to_be_visible()
    sheet = client.baselines.get()
    assert sheet.trials.count() == sum(step.required_trials for step in STEPS)
    assert all(trial.figures for trial in sheet.trials.all())
    assert {t.kind for t in client.targets.all()} == {
        "notes", "hold", "steadiness", "soft_level", "loud_level", "talk_level",
    }  # fmt: skip


@pytest.mark.long
def test_from_a_new_client_to_accepted_targets_in_forty_keys(desk):
    hands = Hands(desk)
    to_baseline(desk, hands)
    record(desk, hands, STEPS[1:])
    to_targets(desk, hands, Client.objects.get(name="Wenna Astley"))
    assert hands.pressed <= MOST_KEYS


#: The same appointment in two parts, which together keep to the bar. The second begins at "s".
FIRST_STEPS, SECOND_STEPS = STEPS[1:6], STEPS[6:]
MOST_FIRST_KEYS = 21


def test_from_a_new_client_to_the_longest_vowel_in_half_the_keys(desk):
    hands = Hands(desk)
    to_baseline(desk, hands)
    record(desk, hands, FIRST_STEPS)
    at_step(desk, SECOND_STEPS[0].code)
    assert hands.pressed <= MOST_FIRST_KEYS


def test_from_the_longest_vowel_to_accepted_targets_in_the_other_half(
    desk, site, person, clinician
):
    sheet = baseline(person, by=clinician, entries={"taken": "coffee at eight", "done": ["taken"]})
    capture = {"device": "simulated voice", "browser": desk.evaluate("navigator.userAgent")}
    for place, step in enumerate(FIRST_STEPS):
        for number in range(step.required_trials):
            clip = simulated_take(person, step, seed=7 * place + number, rate_hz=16_000)
            record_sound(
                sheet, step, key=uuid.uuid4(), source="simulated", samples=clip.samples,
                rate_hz=clip.rate_hz, capture=capture,
            )  # fmt: skip
    desk.goto(f"{site}/clients/baselines/{sheet.pk}/?step={SECOND_STEPS[0].code}")
    hands = Hands(desk)
    hands.press("m")  # A synthetic voice.
    record(desk, hands, SECOND_STEPS)
    to_targets(desk, hands, person)
    # Its first key chose the voice, which the first part has counted.
    assert hands.pressed - 1 <= MOST_KEYS - MOST_FIRST_KEYS


def test_text_typed_before_the_scripts_load_lands_in_the_field(desk, site, person, clinician):
    sheet = baseline(person, by=clinician)
    late = []
    desk.route("**/bundled/baseline/sheet.js", lambda route: late.append(route))
    desk.goto(f"{site}/clients/baselines/{sheet.pk}/?step=taken", wait_until="commit")
    expect(desk.get_by_label("In the last hours")).to_be_focused()
    desk.keyboard.type("coffee at eight")
    desk.keyboard.press("Enter")
    assert late, "the scripts were there before the keys"
    for route in late:
        route.continue_()
    desk.wait_for_load_state()
    expect(desk.get_by_label("In the last hours")).to_have_value("coffee at eight")
    desk.keyboard.press("Enter")
    at_step(desk, "calibration")
    sheet.refresh_from_db()
    assert sheet.entries["taken"] == "coffee at eight"


def test_the_sheet_by_hand_leave_out_note_and_go_back(desk, site, person, clinician):
    sheet = baseline(person, by=clinician)
    page = desk
    page.goto(f"{site}/clients/baselines/{sheet.pk}/?step=vowel")
    page.keyboard.press("y")
    page.keyboard.type("400")
    page.keyboard.press("Enter")
    expect(page.locator("[data-typed-problem]")).to_contain_text("not possible")
    page.locator("#id_total_s").fill("14.2")
    page.keyboard.press("Enter")
    expect(page.locator("#stage table")).to_contain_text("14.2 s")
    page.keyboard.press("t")
    page.keyboard.type("a little hoarse")
    page.keyboard.press("Enter")
    expect(page.locator("#stage table")).to_contain_text("a little hoarse")
    page.keyboard.press("d")
    expect(page.locator(".struck")).to_have_count(1)
    page.keyboard.press("u")
    expect(page.locator(".struck")).to_have_count(0)
    page.keyboard.press("n")
    at_step(page, "s")
    page.keyboard.press("p")
    at_step(page, "vowel")
    assert sheet.trials.get().note == "a little hoarse"


@pytest.mark.parametrize(
    "where", ["new/", "{pk}/record/", "{pk}/screen/", "{pk}/baselines/", "{pk}/targets/", "clinic/"]
)
def test_the_clinicians_screens_have_no_violation(desk, site, person, where):
    desk.goto(f"{site}/clients/{where.format(pk=person.pk)}")
    found = Axe().run(desk)
    assert found.violations_count == 0, found.generate_report()


def test_the_sheet_and_the_calculators_have_no_violation(desk, site, person, clinician):
    from tests.factories import baseline_trial

    sheet = baseline_trial(person, by=clinician).baseline
    for path in (f"clients/baselines/{sheet.pk}/?step=vowel", f"calculators/?client={person.pk}"):
        desk.goto(f"{site}/{path}")
        found = Axe().run(desk)
        assert found.violations_count == 0, found.generate_report()


def test_a_follow_up_question_appears_only_after_its_answer(page, site, person, clinician):
    sign_in(page.context, site, clinician)
    page.goto(f"{site}/clients/{person.pk}/screen/?again=1")
    follow_up = page.get_by_text("Has your voice been hoarse since then?")
    page.keyboard.press("0")
    expect(follow_up).to_be_hidden()
    page.locator("input[name=caution_neck_surgery][value=yes]").check()
    expect(follow_up).to_be_visible()
    for name in (
        "complaint",
        "flag_hoarser",
        "caution_vocal_fold_surgery",
        "caution_pressure_acute",
    ):
        page.locator(f"input[name={name}][value=no]").check()
    page.locator("input[name=hoarse_since_neck_surgery][value=yes]").check()
    page.get_by_role("button", name="Save answers").click()
    expect(page.locator("#main")).to_contain_text("New or worse hoarseness")
