"""Random input to a session raises no flag by accident, can always end, and leaves no microphone
open. A few walks run in every test run; `make walks` makes five hundred."""

import os
import sys
from pathlib import Path

import pytest

from tests.browser.conftest import CHROMIUM, QUIET, open_player, programme
from tests.factories import item

WALKS = int(os.environ.get("WALKS", "24"))
STEPS = 45
FAR = {"safety", "task", "try"}
SIZES = [(1280, 800), (390, 844), (320, 568), (320, 256)]
DRIVER = (Path(__file__).parent / "walks.js").read_text()
FORGET = """async () => {
    localStorage.clear();
    localStorage.setItem("still-reed:source", "microphone");
    for (const { name } of await indexedDB.databases()) await new Promise((done) => {
        const gone = indexedDB.deleteDatabase(name);
        gone.onsuccess = gone.onerror = gone.onblocked = done;
    });
}"""


@pytest.fixture
def every_kind(person, clinician):
    """A task of every kind that has its own screen."""
    return programme(
        person, clinician,
        item("lips_stretch", params={"reps": 2}),
        item("straw_hold", notes=[53], params={"seconds": 1.5, "reps": 2}),
        item("straw_water", notes=[53], params={"seconds": 2, "reps": 1}),
        item("strong_ah", params={"seconds": 2, "reps": 2}, floor=3, ceiling=13, sip=True),
        item("belly_hand", params={"cycles": 1}),
        item("steady_hiss", params={"seconds": 2, "reps": 1}),
        item("sirens", params={"reps": 1}),
        item("functional_phrases", params={"lines": 3}),
        item("balloon"),
        item("hum_hold", notes=[53], contrast=True, feedback="block", params={"reps": 1}),
        item("quiet_minute"),
        item("habits"),
    )  # fmt: skip


@pytest.mark.parametrize("part", range(2))
def test_random_walks(playwright, site, person, every_kind, part):
    args = [*QUIET, "--autoplay-policy=no-user-gesture-required", "--use-fake-ui-for-media-stream"]
    browser = playwright.chromium.launch(executable_path=CHROMIUM, args=args)
    page = browser.new_context().new_page()
    page.add_init_script(DRIVER)
    open_player(page, site, person.account, source="microphone")
    trouble, flags, asked, screens = {}, 0, 0, set()
    # On a busy machine each walk gets less far, so make more of them.
    for seed in range(part, 4 * WALKS, 2):
        if seed >= WALKS and screens >= FAR:
            break
        width, height = SIZES[seed // 2 % len(SIZES)]
        page.set_viewport_size({"width": width, "height": height})
        if seed % 6 < 4:  # Some walks begin where the previous one ended.
            page.evaluate(FORGET)
        page.goto(f"{site}/practice/")
        page.locator("[data-ready]").wait_for(state="attached")
        found = page.evaluate("([seed, steps]) => walk(seed, steps)", [seed * 7919 + 1, STEPS])
        flags, asked = flags + found["flags"], asked + found["asked"]
        screens |= set(found["screens"])
        if found["trouble"]:
            trouble[seed, f"{width} × {height}"] = found["trouble"]
    browser.close()
    sys.stdout.write(f"{flags} flags confirmed, microphone asked {asked} times, {sorted(screens)}")
    assert not trouble
    assert screens >= FAR  # The walks do reach something.
    assert asked
