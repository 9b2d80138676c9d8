"""Presses and words of whole sessions, usual and hands free: what a client has to do and to read."""

import pytest

from tests.browser.conftest import at, open_player, programme, through
from tests.browser.test_hands_free import ASKED, answer_screens, with_settings
from tests.factories import item

#: Counts the words of each new screen, in the page.
COUNT = """() => {
    window.words = 0;
    let shown = null;
    const look = () => {
        const screen = document.querySelector("[data-screen]");
        if (!screen || screen === shown) return;
        shown = screen;
        window.words += (screen.innerText.match(/[\\p{L}\\p{N}’]+/gu) ?? []).length;
    };
    new MutationObserver(look).observe(document.body, { childList: true, subtree: true });
    look();
}"""
SHORT = {"seconds": 1.5, "reps": 1}


def straw(note=53, **more):
    return item("straw_hold", notes=[note], params=SHORT, **more)


SESSIONS = {
    "three tasks": lambda: [straw(), item("hum_hold", notes=[53], params=SHORT), straw(55, id="again")],
    "a child’s five": lambda: [
        straw(62), item("hum_hold", notes=[62], params=SHORT), straw(64, id="second"),
        item("lips_stretch", params={"reps": 2}), item("quiet_minute"),
    ],
    "function block": lambda: [
        straw(), *[straw(note, id=f"n{note}") for note in (48, 50, 52, 53, 55)],
    ],
}  # fmt: skip
#: Repetitions and minutes are ended by the client, also hands free.
ASKED_TOO = {**ASKED, "reps": "Space", "timed": "Space"}
#: Most presses of each session, usual and hands free.
MOST = {
    "three tasks": (16, 5), "a child’s five": (21, 9),
    "function block": (28, 5),
}  # fmt: skip


@pytest.mark.long
@pytest.mark.parametrize("is_hands_free", [False, True])
@pytest.mark.parametrize("name", SESSIONS)
def test_presses_and_words_of_a_session(
    page, site, person, clinician, name, is_hands_free, record_property
):
    wording = {"wording": "child"} if "child" in name else {}
    programme(person, clinician, *SESSIONS[name](), **wording)
    presses = []

    def press(key):
        presses.append(key)
        page.keyboard.press(key)

    if is_hands_free:
        with_settings(page, site, person, "hands-free")
        page.evaluate(COUNT)
        answer_screens(page, ASKED_TOO, press=lambda screen: press(ASKED_TOO[screen]))
    else:
        open_player(page, site, person.account)
        page.evaluate(COUNT)
        at(page, "today")
        press("1")
        at(page, "safety")
        press("Space")
        through(page, press)
    words = page.evaluate("window.words")
    record_property("presses", len(presses))
    record_property("words", words)
    assert len(presses) <= MOST[name][is_hands_free]
    assert words > 20
