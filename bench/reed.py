"""``python -m bench.reed``: how smoothly the live reed is drawn, and how far behind the voice.

Against a running demo (``make demo``): a simulated voice is held in a real browser, and each
picture of the reed is noted with the sound that it shows.
"""

from __future__ import annotations

import os
from statistics import median

from playwright.sync_api import sync_playwright

SITE = os.environ.get("SITE", "http://127.0.0.1:8000")
CODE, PIN = "lamp-d4aa", "246810"
#: Records when each block of sound arrived, and when each picture was drawn and up to which frame.
WATCH = """
    localStorage.setItem("still-reed:source", "simulated");
    window.blocks = []; window.pictures = [];
    const Usual = window.AudioWorkletNode;
    window.AudioWorkletNode = class extends Usual {
        constructor(...how) {
            super(...how);
            this.port.addEventListener(
                "message", ({ data }) => data && blocks.push([performance.now(), data.length]));
        }
    };
    document.addEventListener(
        "drawn", ({ detail }) => pictures.push([performance.now(), detail]), true);
"""


def measured() -> dict[str, float]:
    """Return pictures per second while the voice sounds, and the lag in ms (median and 95th
    percentile)."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path="/usr/bin/chromium-headless-shell",
            args=["--no-sandbox", "--disable-gpu"],
        )
        page = browser.new_page()
        page.add_init_script(WATCH)
        page.goto(f"{SITE}/practice/with/{CODE}/")
        page.get_by_label("Your PIN").fill(PIN)
        page.keyboard.press("Enter")
        page.wait_for_selector("[data-ready]")
        page.wait_for_selector("body[data-settled]", state="attached")
        page.keyboard.press("1")
        page.wait_for_selector("[data-screen=safety]")
        page.wait_for_selector("body[data-settled]", state="attached")
        page.keyboard.press("Space")
        page.wait_for_selector("[data-screen=task]")
        page.wait_for_selector("body[data-settled]", state="attached")
        page.keyboard.press("Space")
        page.wait_for_selector("[data-result]", timeout=60_000)
        rate = page.evaluate("new AudioContext().sampleRate")
        blocks, pictures = page.evaluate("[blocks, pictures]")
        browser.close()
    # The take begins with the first block that it received; a few arrived earlier.
    first_ms = blocks[0][0] - 1000.0 * blocks[0][1] / rate
    lags = sorted(at - first_ms - 10.0 * frame for at, frame in pictures)
    # Use the steady part only: the first second is the onset of the voice.
    seconds = (pictures[-1][0] - pictures[0][0]) / 1000.0
    return {
        "pictures a second": len(pictures) / seconds,
        "lag ms": median(lags),
        "lag ms, 95 %": lags[int(0.95 * len(lags))],
    }


if __name__ == "__main__":
    for name, value in measured().items():
        print(f"{name:20} {value:6.1f}")
