"""A stop arrives: with other entries waiting, under any sign-in, and after any failure of network
or hand."""

import json
import re
from datetime import timedelta

import pytest
from django.utils import timezone
from playwright.sync_api import expect

from tests.browser.conftest import (
    PATIENCE,
    at,
    open_player,
    report_problem,
    settled,
    to_first_task,
)
from tests.factories import ClientFactory, item, publish_anyway, simple_document
from web.clients.actions import issue_practice_access, revoke_practice_access
from web.clients.actions.access import set_practice_access
from web.intake.models import RefusedEntry
from web.record.models import Trial
from web.screening.models import Stop

HAS_IT = "The clinic has received it."


@pytest.fixture
def short(person, clinician):
    return publish_anyway(
        person,
        simple_document(
            item("lips_stretch", params={"reps": 2}),
            item("lips_stretch", id="again", params={"reps": 2}),
        ),
        by=clinician,
    )


def report_stop(page, name="new pain when I use my voice"):
    page.keyboard.press("s")
    at(page, "stop")
    report_problem(page, name)


POISON = """async ([owner, session]) => {
    const opened = indexedDB.open("still-reed-practice");
    const db = await new Promise((resolve) => (opened.onsuccess = () => resolve(opened.result)));
    const store = db.transaction("entries", "readwrite").objectStore("entries");
    const entry = { kind: "mark", key: "not a key", at: "soon", session, mark: "comment", value: "x" };
    await new Promise((resolve) => (store.add({ owner, entry, recording: null, held: false }).onsuccess = resolve));
    db.close();
}"""


def test_an_entry_that_never_fits_is_refused_by_itself_shown_and_saved(
    page, site, person, short, tmp_path
):
    open_player(page, site, person.account)
    page.evaluate(POISON, [f"home:{person.pk}", {}])
    page.reload()
    page.locator("[data-ready]").wait_for(state="attached")
    expect(page.get_by_text("1 not saved by the clinic: see More")).to_be_visible()
    to_first_task(page)
    report_stop(page)
    expect(page.get_by_text(HAS_IT)).to_be_visible()
    assert Stop.objects.get().flags == ["new_pain"]
    page.get_by_role("button", name="More").click()
    with page.expect_download() as download:
        page.get_by_role("button", name="Save them to a file").click()
    saved = json.loads(download.value.path().read_text())
    assert [each["entry"]["key"] for each in saved["entries"]] == ["not a key"]
    # The helper sees that it was rejected, and why.
    assert RefusedEntry.objects.get().client == person
    # The next page finds it encrypted, shows it at once, and stores what the clinic decrypts.
    page.reload()
    page.locator("[data-ready]").wait_for(state="attached")
    expect(page.get_by_text("1 not saved by the clinic: see More")).to_be_visible()
    page.get_by_role("button", name="More").click()
    with page.expect_download() as download:
        page.get_by_role("button", name="Save them to a file").click()
    assert json.loads(download.value.path().read_text()) == saved
    expect(page.get_by_text("Saved. Give the file to your clinic")).to_be_visible()


@pytest.mark.parametrize("status", [500, 413], ids=["a fault of ours", "too large"])
def test_an_entry_that_always_fails_delays_neither_stops_nor_other_entries(
    page, site, person, short, status
):
    answered = []

    def fail_the_first(route):
        if '"kind":"begun"' in (route.request.post_data or ""):
            answered.append(status)
            route.fulfill(status=status, body="{}")
        else:
            route.continue_()

    page.route("**/practice/entries/", fail_the_first)
    open_player(page, site, person.account)
    to_first_task(page)
    page.keyboard.press("Space")
    at(page, "reps")
    page.keyboard.press("Space")
    expect(page.get_by_text("1 try sent")).to_be_visible()
    assert Trial.objects.count() == 1
    report_stop(page)
    expect(page.get_by_text(HAS_IT)).to_be_visible()
    assert answered
    assert Stop.objects.count() == 1


def test_signed_out_and_stopped(page, site, person, short):
    open_player(page, site, person.account)
    to_first_task(page)
    page.context.clear_cookies()
    report_stop(page)
    expect(page.get_by_text(HAS_IT)).to_be_visible()
    assert Stop.objects.get().client == person


def test_offline_stopped_and_loaded_anew(page, line, person, short):
    open_player(page, line.site, person.account)
    to_first_task(page)
    line.down()
    report_stop(page)
    expect(
        page.get_by_text(
            "The clinic does not have it yet. This device keeps trying to send it. If it is urgent, call the clinic."
        )
    ).to_be_visible()
    assert not Stop.objects.exists()
    line.up()
    page.reload()
    page.locator("[data-ready]").wait_for(state="attached")
    at(page, "paused")
    expect(page.get_by_text("all sent")).to_be_visible()
    assert Stop.objects.count() == 1


def test_the_server_killed_between_a_stop_and_its_answer(page, server, person, short):
    lost = []

    def lose(route):
        if lost:
            return route.continue_()
        lost.append(route.fetch().status)  # The request reaches the clinic, and the answer is lost.
        server.kill()
        return route.abort()

    page.route("**/practice/stop/", lose)
    open_player(page, server.line.site, person.account)
    to_first_task(page)
    # A server restarted before the request came would be killed a second time, for good.
    with page.expect_event("requestfailed", lambda each: each.url.endswith("/practice/stop/")):
        report_stop(page)
    server.restart()
    expect(page.get_by_text(HAS_IT)).to_be_visible()
    assert lost == [200]
    assert Stop.objects.count() == 1


def test_a_hand_that_taps_twice_raises_no_flag(browser, site, person, short):
    context = browser.new_context(
        viewport={"width": 390, "height": 844}, has_touch=True, is_mobile=True
    )
    page = open_player(context.new_page(), site, person.account)
    for name in ("Tired or dry", "None of these", "Begin"):
        button = page.get_by_role("button", name=name)
        button.wait_for()  # Its screen is there, and then accepts answers.
        settled(page)
        box = button.bounding_box()
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        for _ in range(3):
            page.touchscreen.tap(x, y)
    at(page, "reps")
    assert not Stop.objects.exists()
    assert page.evaluate("localStorage.getItem('still-reed:stops')") in (None, "[]")
    context.close()


STRIP = "() => document.querySelector('.strip').getBoundingClientRect().bottom"
CONFIRM = """() => { const r = document.querySelector("[data-confirm]").getBoundingClientRect(); return [r.left, r.top, r.right, r.bottom]; }"""


@pytest.mark.parametrize(
    "size", [(1280, 800), (390, 844), (320, 568), (320, 256), (844, 390)], ids=str
)
def test_a_button_that_raises_a_flag_is_where_no_other_button_stood(
    page, site, person, short, size
):
    page.set_viewport_size({"width": size[0], "height": size[1]})
    open_player(page, site, person.account)
    at(page, "today")
    strip = page.evaluate(STRIP)

    page.keyboard.press("1")
    at(page, "safety")
    page.mouse.wheel(0, 400)
    hit = page.evaluate(
        "y => document.elementFromPoint(60, y / 2).closest('.strip') !== null", strip
    )
    assert hit
    foot = page.evaluate(
        "document.querySelector('footer').getBoundingClientRect().height / innerHeight"
    )
    assert foot <= 1 / 3
    page.get_by_role("button", name="streaks of blood").click()
    at(page, "confirm")
    left, top, right, bottom = page.evaluate(CONFIRM)
    assert top >= 0
    assert bottom <= strip
    assert right - left >= 200
    page.keyboard.press("n")
    at(page, "safety")
    assert not Stop.objects.exists()


def test_pressed_by_mistake_goes_on_where_it_was(page, site, person, short):
    open_player(page, site, person.account)
    to_first_task(page)
    report_stop(page)
    expect(page.get_by_text(HAS_IT)).to_be_visible()
    settled(page)
    page.get_by_role("button", name="I pressed it by mistake").click()
    at(page, "resume")
    stop = Stop.objects.get()
    assert stop.cancelled_at is not None
    assert stop.cleared_at is not None


def test_a_stop_already_sent_still_pauses_the_device(page, site, person, short):
    open_player(page, site, person.account)
    to_first_task(page)
    report_stop(page)
    expect(page.get_by_text(HAS_IT)).to_be_visible()
    Stop.objects.update(delivered_at=timezone.now())
    settled(page)
    page.get_by_role("button", name="I pressed it by mistake").click()
    at(page, "paused")
    kept = page.evaluate(STOPPED, f"home:{person.pk}:stopped")
    assert kept["key"] == str(Stop.objects.get().pk)
    assert Stop.objects.get().cleared_at is None


@pytest.mark.parametrize("size", [(320, 568), (390, 844)])
def test_the_number_to_call_stays_when_an_emergency_was_pressed_by_mistake(
    page, site, person, short, size
):
    page.set_viewport_size(dict(zip(("width", "height"), size, strict=True)))
    open_player(page, site, person.account)
    to_first_task(page)
    page.keyboard.press("s")
    at(page, "stop")
    call = page.get_by_role("link", name="Call 112")
    expect(call).to_be_in_viewport()
    report_problem(page, "pain in the chest (urgent)")
    expect(page.get_by_text(HAS_IT)).to_be_visible()
    settled(page)
    page.get_by_role("button", name="I pressed it by mistake").click()
    expect(
        page.get_by_text(
            "Saved: pressed by mistake. Your clinician will ask you before you continue."
        )
    ).to_be_visible()
    expect(call).to_be_visible()
    at(page, "advice")
    # Also on the next page.
    page.reload()
    at(page, "paused")
    expect(call).to_be_in_viewport()
    expect(call).to_have_attribute("href", "tel:112")


def test_a_second_press_does_not_answer_the_safety_question(page, site, person, short):
    page.clock.install()
    open_player(page, site, person.account)
    at(page, "today")
    # From here on, the test advances the page's time, however slow the machine is.
    page.clock.pause_at(page.evaluate("Date.now()") + 1000)
    page.keyboard.press("1")
    page.locator("[data-screen=safety]").wait_for()
    for _ in range(8):
        page.keyboard.press("Space")
        page.mouse.click(640, 400)
        page.clock.run_for(100)
    expect(page.locator("[data-screen=safety]")).to_be_visible()
    page.clock.resume()
    settled(page)
    page.keyboard.press("Space")
    at(page, "task")


def test_voice_rest_is_kept_by_the_device_until_its_last_day_is_over(page, site, person, short):
    last = timezone.localdate() + timedelta(days=2)
    type(person).objects.filter(pk=person.pk).update(voice_rest_until=last)
    open_player(page, site, person.account)
    at(page, "paused")
    expect(page.get_by_text("Your voice is resting")).to_be_visible()
    expect(page.get_by_text(f"{last:%-d %B}")).to_be_visible()
    # A page stored on a device uses the device's own date.
    page.clock.set_fixed_time(timezone.now() + timedelta(days=3))
    page.reload()
    at(page, "today")


STOPPED = """async (name) => {
    const opened = indexedDB.open("still-reed-practice");
    const db = await new Promise((resolve) => (opened.onsuccess = () => resolve(opened.result)));
    const asked = db.transaction("state").objectStore("state").get(name);
    return new Promise((resolve) => (asked.onsuccess = () => resolve(asked.result)));
}"""


def test_a_stop_with_the_device_full_shows_its_advice_and_goes(page, site, person, short):
    page.add_init_script(
        """
        const full = () => { throw new DOMException("", "QuotaExceededError"); };
        Storage.prototype.setItem = full;
        IDBObjectStore.prototype.add = full;
        IDBObjectStore.prototype.put = full;
        """
    )
    open_player(page, site, person.account)
    to_first_task(page)
    expect(page.get_by_text("this device is full")).to_be_visible()
    report_stop(page)
    expect(page.get_by_role("heading", name="Do not use your voice for practice.")).to_be_visible()
    expect(page.get_by_text(HAS_IT)).to_be_visible()
    assert Stop.objects.count() == 1


TRACKS = """
    window.live = () => (window.tracks ?? []).filter((each) => each.readyState === "live").length;
    const real = navigator.mediaDevices.getUserMedia.bind(navigator.mediaDevices);
    navigator.mediaDevices.getUserMedia = async (asked) => {
        window.asked = (window.asked ?? 0) + 1;
        if (window.answers) await window.answers;
        const stream = await real(asked);
        (window.tracks ??= []).push(...stream.getTracks());
        return stream;
    };
"""
LATE = """
    window.answers = new Promise((resolve) => (window.allow = resolve));
    navigator.permissions.query = async () => ({ state: "prompt" });
"""
#: Permission was given long ago, and the microphone still opens slowly.
ALLOWED = LATE.replace("prompt", "granted")


@pytest.fixture
def with_microphone(playwright):
    from tests.browser.conftest import CHROMIUM, QUIET

    browser = playwright.chromium.launch(
        executable_path=CHROMIUM,
        args=[*QUIET, "--use-fake-device-for-media-stream", "--use-fake-ui-for-media-stream"],
    )
    yield browser.new_context(permissions=["microphone"]).new_page()
    browser.close()


def test_a_microphone_granted_after_stop_is_closed(with_microphone, site, person, task):
    page = with_microphone
    page.add_init_script(LATE + TRACKS)
    open_player(page, site, person.account, source="microphone")
    to_first_task(page)
    page.keyboard.press("Space")
    at(page, "try")
    expect(
        page.get_by_text("Your browser asks to use the microphone. Press Allow.")
    ).to_be_visible()
    page.keyboard.press("s")
    at(page, "stop")
    page.keyboard.press("0")
    at(page, "done")
    page.evaluate("window.allow()")
    page.wait_for_function("() => window.tracks?.length > 0", timeout=PATIENCE)
    page.wait_for_function("() => window.live() === 0", timeout=PATIENCE)
    assert not Trial.objects.exists()


def test_a_microphone_lost_during_a_hold_is_reported_and_nothing_is_stored(
    with_microphone, site, person, task
):
    page = with_microphone
    page.add_init_script(TRACKS)
    open_player(page, site, person.account, source="microphone")
    to_first_task(page)
    page.keyboard.press("Space")
    page.locator("body[data-state=listening]").wait_for(state="attached")
    page.evaluate(
        "window.tracks.forEach((each) => { each.stop(); each.dispatchEvent(new Event('ended')); })"
    )
    at(page, "no_sound")
    expect(
        page.get_by_role(
            "heading",
            name="The microphone was disconnected. This try was not saved. Check the microphone and try again.",
        )
    ).to_be_visible()
    assert not Trial.objects.exists()
    # The stopwatch is for this session: the next one asks for the microphone again.
    page.get_by_role("button", name="Use the stopwatch instead").click()
    page.get_by_role("button", name="Start").wait_for()
    settled(page)
    assert page.evaluate("localStorage.getItem('still-reed:source')") == "microphone"


def test_an_output_that_sleeps_holds_up_neither_stop_nor_skip(page, site, person, task):
    page.add_init_script(
        """
        AudioContext.prototype.resume = () => new Promise(() => {});
        Object.defineProperty(AudioContext.prototype, "state", { get: () => "suspended" });
        """
    )
    open_player(page, site, person.account)
    to_first_task(page)
    page.keyboard.press("Space")
    at(page, "try")
    page.keyboard.press("k")  # While it still shows "Listen".
    at(page, "skip")
    page.keyboard.press("1")
    at(page, "after")


def test_a_closed_link_says_so_and_leaves_nothing_on_the_device(page, site, person, short):
    open_player(page, site, person.account)
    to_first_task(page)
    revoke_practice_access(person)
    page.keyboard.press("Space")
    at(page, "reps")
    page.keyboard.press("Space")
    at(page, "closed")
    expect(page.get_by_role("heading", name="This practice link is disabled.")).to_be_visible()
    assert (
        page.evaluate("Object.keys(localStorage).filter((each) => each.startsWith('still-reed'))")
        == []
    )


def test_entries_waiting_under_a_replaced_link_are_sent_under_the_new_one(
    page, line, person, short
):
    """The same device and client: replacing the link loses nothing."""
    set_practice_access(
        person, account=person.account, code="old-link", hashed_pin=person.account.password
    )
    open_player(page, line.site, person.account)
    to_first_task(page)
    line.down()
    page.keyboard.press("Space")
    at(page, "reps")
    page.keyboard.press("Space")
    expect(page.get_by_text(re.compile(r"\d saved here, waiting"))).to_be_visible()
    issue_practice_access(person)
    line.up()
    at(page, "closed")
    expect(
        page.get_by_text(
            "Open the new link on this device to send your saved practice. Your clinic has the link."
        )
    ).to_be_visible()
    assert not Trial.objects.exists()
    person.refresh_from_db()
    page.context.clear_cookies()
    page.goto(f"{line.site}/practice/with/{person.practice_code}/")
    for name in ("#id_pin", "#id_again"):
        page.locator(name).fill("864209")
    page.keyboard.press("Enter")
    page.locator("[data-ready]").wait_for(state="attached")
    expect(page.get_by_text("all sent")).to_be_visible()
    assert Trial.objects.filter(client=person).exists()


def test_another_client_on_the_device_does_not_see_the_stop(page, site, person, short, clinic):
    from tests.browser.conftest import sign_in

    other = ClientFactory(clinic=clinic, name="Somebody Else")
    publish_anyway(other, simple_document(item("lips_stretch")), by=short.published_by)
    open_player(page, site, person.account)
    to_first_task(page)
    sign_in(page.context, site, other.account)
    page.keyboard.press("Space")
    at(page, "reps")
    page.keyboard.press("Space")
    expect(page.get_by_role("link", name="Sign in again")).to_be_visible()
    assert not other.sessions.exists()
    assert not Trial.objects.exists()
