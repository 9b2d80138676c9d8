"""Every obstacle to a session is a screen with an explanation, and Stop works on each.

Each is shown at four sizes of screen, and left by Stop: what is shown, kept and sent is looked at before
and after.
"""

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import (
    CHROMIUM,
    QUIET,
    at,
    open_player,
    report_problem,
    result,
    settled,
    to_first_task,
)
from tests.browser.test_stops import ALLOWED, HAS_IT, LATE, TRACKS
from web.record.models import Session, Trial
from web.screening.models import Stop

SIZES = [(1280, 800), (390, 844), (320, 568), (320, 256)]
FULL = """
    const full = () => { throw new DOMException("", "QuotaExceededError"); };
    Storage.prototype.setItem = full;
    IDBObjectStore.prototype.add = full;
    IDBObjectStore.prototype.put = full;
"""
BLOCKED = """
    IDBFactory.prototype.open = () => {
        const asked = new EventTarget();
        Object.setPrototypeOf(asked, IDBOpenDBRequest.prototype);
        setTimeout(() => asked.dispatchEvent(new Event("blocked")));
        return asked;
    };
"""
ASLEEP = """
    AudioContext.prototype.resume = () => new Promise(() => {});
    Object.defineProperty(AudioContext.prototype, "state", { get: () => "suspended" });
"""
TAKEN_AWAY = (
    "window.tracks.forEach((each) => { each.stop(); each.dispatchEvent(new Event('ended')); })"
)
REVOKED = """() => {
    navigator.mediaDevices.getUserMedia = () => Promise.reject(new DOMException("", "NotAllowedError"));
}"""
#: Stop is on top of anything at its middle, the footer takes at most a third, and everything to
#: read or press can be scrolled between the header and the footer.
IN_REACH = """() => {
    const stop = document.querySelector("[data-stop]");
    const { left, top, width, height } = stop.getBoundingClientRect();
    const over = document.elementFromPoint(left + width / 2, top + height / 2);
    const foot = document.querySelector("footer").getBoundingClientRect();
    return {
        stop: over !== null && stop.contains(over),
        size: Math.min(width, height),
        foot: foot.height / innerHeight,
        wide: document.documentElement.scrollWidth <= innerWidth,
    };
}"""


@pytest.fixture
def page(playwright):
    """A browser with its own microphone."""
    args = [*QUIET, "--use-fake-device-for-media-stream", "--use-fake-ui-for-media-stream"]
    browser = playwright.chromium.launch(executable_path=CHROMIUM, args=args)
    page = browser.new_context(permissions=["microphone"]).new_page()
    yield page
    browser.close()


def at_every_size(page, words):
    """Check that the text is shown and Stop can be pressed, at every size."""
    for width, height in SIZES:
        page.set_viewport_size({"width": width, "height": height})
        said = page.get_by_text(words).first
        expect(said).to_be_visible()
        said.scroll_into_view_if_needed()
        found = page.evaluate(IN_REACH)
        assert found["stop"], (words, width, height)
        assert found["size"] >= 44, (words, width, height)
        assert found["foot"] <= 1 / 3, (words, width, height)
        assert found["wide"], (words, width, height)


def stop(page, *, told=HAS_IT):
    """Press Stop, answer and confirm: the advice and the delivery of the report are shown."""
    settled(page)
    page.locator("[data-stop]").click()
    at(page, "stop")
    report_problem(page, "new pain when I use my voice")
    expect(page.get_by_role("heading", name="Do not use your voice for practice.")).to_be_visible()
    at_every_size(page, told)
    assert page.evaluate("window.live?.() ?? 0") == 0


def listening(page):
    page.keyboard.press("Space")
    page.locator("body[data-state=listening]").wait_for(state="attached")


def begun(page, site, person, *, source="microphone"):
    open_player(page, site, person.account, source=source)
    to_first_task(page)


def open_sizes(page):
    """Open More on a small screen, where the state of entries is shown."""
    for width, height in SIZES:
        page.set_viewport_size({"width": width, "height": height})
        if not page.locator("[data-status]").is_visible():
            page.get_by_role("button", name="More").click()
            expect(page.locator("[data-status-too]")).not_to_be_empty()
            page.get_by_role("button", name="Back to practice").click()
        assert page.evaluate(IN_REACH)["stop"], (width, height)


STORES = {
    "full": (FULL, "this device is full"),
    "held by another page": (
        BLOCKED,
        "another page uses this browser’s storage: results are lost when this page closes",
    ),
}


@pytest.mark.parametrize(("trouble", "words"), STORES.values(), ids=STORES)
def test_a_store_that_keeps_nothing_holds_up_no_stop(page, site, person, task, trouble, words):
    page.add_init_script(trouble)
    begun(page, site, person)
    expect(page.locator("[data-status]")).to_contain_text(words)
    open_sizes(page)
    stop(page)
    assert Stop.objects.count() == 1


def test_the_output_sleeps(page, site, person, task):
    page.add_init_script(ASLEEP + TRACKS)
    begun(page, site, person)
    page.keyboard.press("Space")
    at(page, "no_sound")
    at_every_size(page, "This device has not allowed sound yet. Press Try again.")
    assert not Trial.objects.exists()
    stop(page)
    assert Stop.objects.count() == 1


def test_the_question_about_the_microphone_is_not_answered(page, site, person, task):
    page.add_init_script(LATE + TRACKS)
    begun(page, site, person)
    page.keyboard.press("Space")
    at(page, "try")
    expect(
        page.get_by_text("Your browser asks to use the microphone. Press Allow.")
    ).to_be_visible()
    at_every_size(
        page,
        "Your browser asks to use the microphone. Press Allow.",
    )
    expect(page.get_by_role("button", name="Use the stopwatch instead")).to_be_visible()
    stop(page)
    page.evaluate("window.allow()")
    page.wait_for_function("() => window.tracks?.length > 0")
    page.wait_for_function("() => window.live() === 0")
    assert Stop.objects.count() == 1
    assert not Trial.objects.exists()


def test_stop_pressed_by_mistake_goes_on_at_the_same_trial(page, site, person, task):
    begun(page, site, person, source="simulated")
    page.keyboard.press("Space")
    result(page)
    page.keyboard.press("Space")
    at(page, "try")
    place = page.locator("[data-progress]").inner_text()
    page.locator("[data-stop]").click()
    at(page, "stop")
    settled(page)
    first = page.locator("[data-screen=stop] .options .button").first
    expect(first).to_contain_text("Go on. I pressed Stop by mistake")
    first.click()
    at(page, "task")
    page.keyboard.press("Space")
    at(page, "try")
    expect(page.locator("[data-progress]")).to_have_text(place)
    assert not Stop.objects.exists()
    assert not Session.objects.exclude(ended_at=None).exists()


def test_a_slow_microphone_that_is_allowed_is_no_question_of_the_browser(page, site, person, task):
    page.add_init_script(ALLOWED + TRACKS)
    begun(page, site, person)
    page.keyboard.press("Space")
    expect(page.get_by_text("The microphone is not open yet. Please wait.")).to_be_visible()
    expect(page.get_by_role("button", name="Use the stopwatch instead")).to_be_visible()


def test_the_microphone_is_taken_away(page, site, person, task):
    page.add_init_script(TRACKS)
    begun(page, site, person)
    listening(page)
    page.evaluate(TAKEN_AWAY)
    at(page, "no_sound")
    at_every_size(
        page,
        "The microphone was disconnected. This try was not saved. Check the microphone and try again.",
    )
    assert not Trial.objects.exists()
    stop(page)
    assert Stop.objects.count() == 1


MUTE = "window.tracks.forEach((each) => each.dispatchEvent(new Event('mute')))"
HIDE = """() => {
    Object.defineProperty(document, "hidden", { get: () => true, configurable: true });
    document.dispatchEvent(new Event("visibilitychange"));
}"""
SHOW = """() => {
    delete document.hidden;
    document.dispatchEvent(new Event("visibilitychange"));
}"""


@pytest.mark.parametrize(
    ("what", "says"),
    [
        (MUTE, "The microphone was muted, perhaps by a call. This try was not saved."),
        (HIDE, "This page was not in front, so the sound has gaps. This try was not saved."),
    ],
    ids=["muted by a call", "page not in front"],
)
def test_a_trial_whose_sound_is_not_whole_is_set_aside_and_offered_again(
    page, site, person, task, what, says
):
    page.add_init_script(TRACKS)
    begun(page, site, person)
    listening(page)
    page.evaluate(what)
    at(page, "no_sound")
    at_every_size(page, says)
    page.wait_for_function("() => window.live() === 0")
    page.evaluate(SHOW)
    settled(page)
    page.get_by_role("button", name="Try again").click()
    page.locator("body[data-state=listening]").wait_for(state="attached")
    assert not Trial.objects.exists()


def test_the_screen_stays_on_during_a_session_and_is_let_go_after_it(page, site, person, task):
    page.add_init_script("""
        window.locks = [];
        Object.defineProperty(navigator, "wakeLock", { value: { request: async (what) => {
            const lock = { what, released: false, release: async () => void (lock.released = true) };
            window.locks.push(lock);
            return lock;
        } } });
    """)
    begun(page, site, person)
    page.wait_for_function("() => window.locks.length === 1 && window.locks[0].what === 'screen'")
    page.keyboard.press("o")
    expect(page.get_by_text("The screen stays on during the session.")).to_be_visible()
    page.keyboard.press("Escape")
    stop(page)
    page.wait_for_function("() => window.locks.every((each) => each.released)")


def test_microphone_permission_is_withdrawn_during_the_session(page, site, person, task):
    page.add_init_script(TRACKS)
    begun(page, site, person)
    page.evaluate(REVOKED)
    page.keyboard.press("Space")
    at(page, "no_sound")
    at_every_size(page, "not allowed to use the microphone")
    page.get_by_role("button", name="Use the stopwatch instead").click()
    page.get_by_role("button", name="Start").wait_for()
    stop(page)
    assert Stop.objects.count() == 1
    assert not Trial.objects.exists()


def test_the_server_stands_still_with_the_line_open(page, line, person, task):
    page.add_init_script(TRACKS)
    begun(page, line.site, person)
    listening(page)
    line.frozen = True
    expect(
        page.get_by_text(
            "The clinic’s server does not answer. The stopwatch runs and your sound is saved here. It stops when you stop."
        )
    ).to_be_visible()
    at_every_size(
        page,
        "The clinic’s server does not answer. The stopwatch runs and your sound is saved here. It stops when you stop.",
    )
    settled(page)
    page.get_by_role("button", name="Done").click()
    expect(page.locator("[data-sentence]")).to_contain_text("seconds of sound, saved here.")
    assert page.evaluate("window.live()") == 0
    stop(
        page,
        told="The clinic does not have it yet. This device keeps trying to send it. If it is urgent, call the clinic.",
    )
    assert not Stop.objects.exists()
    line.frozen = False
    expect(page.get_by_text(HAS_IT)).to_be_visible()
    expect(page.locator("[data-status]")).to_contain_text("all sent")
    assert Stop.objects.count() == 1
    assert Trial.objects.count() == 1  # The hold came after it.


BREAKS_ONCE = """
    const real = crypto.randomUUID.bind(crypto);
    crypto.randomUUID = () => {
        if (!window.breaks) return real();
        window.breaks = false;
        throw new Error("a fault of this page");
    };
"""


def test_an_error_in_the_page_is_shown_and_the_session_goes_on(page, site, person, task):
    page.add_init_script(BREAKS_ONCE)
    open_player(page, site, person.account)
    at(page, "today")
    page.evaluate("window.breaks = true")
    page.keyboard.press("1")  # Where a session begins.
    at(page, "fault")
    at_every_size(page, "Your results are saved.")
    page.get_by_role("button", name="Continue").click()
    at(page, "today")
    page.keyboard.press("1")
    at(page, "safety")
    stop(page)
    assert Stop.objects.count() == 1
