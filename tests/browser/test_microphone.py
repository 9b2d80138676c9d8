"""A real capture device, fed from a file: measured correctly, without losing samples of the
worklet."""

import numpy as np
import pytest
from playwright.sync_api import expect

from reedcore.formats.wav import write_wav
from reedcore.synthvoice import HeldVoice, VoicedPart, speak
from tests.browser.conftest import (
    DEVICE,
    QUIET,
    WHOLE_CHROMIUM,
    at,
    open_player,
    result,
    settled,
    the_trial,
    to_first_try,
    until_shown,
)
from tests.rehearsing import until
from web.intake import consumers
from web.record.models import SelfReport, Trial

#: Maximum delay from loudspeaker to database (the product's bar).
HOLD_S, PITCH_CENTS = 0.15, 10.0
#: Sampling rate of a browser without sound hardware. Its simulated loudspeaker must run at the same
#: intervals as its simulated microphone (10 ms), or sound is lost between the two now and then.
DEVICE_RATE_HZ = 44_100
IN_STEP = f"--audio-buffer-size={DEVICE_RATE_HZ // 100}"
#: Records every block of a worklet, next to what the page does with it.
LISTEN_IN = """
    window.given = [];
    const Usual = window.AudioWorkletNode;
    window.AudioWorkletNode = class extends Usual {
        constructor(...how) {
            super(...how);
            this.port.addEventListener("message", ({ data }) => data && window.given.push(data));
        }
    };
"""
#: Blocks before the page has begun its take are not part of it: a few of 2048 samples.
BEFORE_THE_TAKE = 8 * 2048


def with_microphone(playwright, *flags, permissions=("microphone",)):
    browser = playwright.chromium.launch(executable_path=WHOLE_CHROMIUM, args=[*QUIET, *flags])
    return browser, browser.new_context(permissions=list(permissions))


@pytest.fixture
def arrived(monkeypatch):
    """Return the recording that the server measured."""
    kept = {}
    record = consumers.record_sound

    def keep_and_record(*args, **kwargs):
        kept.update(samples=kwargs["samples"], rate_hz=kwargs["rate_hz"])
        return record(*args, **kwargs)

    monkeypatch.setattr(consumers, "record_sound", keep_and_record)
    return kept


def through_microphone_check(page, says):
    """Go through the microphone check of a first session, which reports the problem, to the try."""
    for screen, key in (("today", "1"), ("safety", "Space"), ("mic_check", None)):
        at(page, screen)
        if key:
            page.keyboard.press(key)
    expect(page.get_by_text(says)).to_be_visible()
    settled(page)
    page.keyboard.press("Space")
    at(page, "task")
    page.keyboard.press("Space")


def test_the_first_session_on_a_device_checks_its_microphone_once(
    playwright, site, person, task, tmp_path
):
    voice = HeldVoice(VoicedPart(seconds=2.5, pitch_hz=171.0), lead_s=1.5, tail_s=1.5)
    clip = speak(voice, rate_hz=DEVICE_RATE_HZ)
    (tmp_path / "voice.wav").write_bytes(write_wav(clip.samples, clip.rate_hz))
    browser, context = with_microphone(
        playwright,
        "--use-fake-device-for-media-stream",
        "--use-fake-ui-for-media-stream",
        f"--use-file-for-fake-audio-capture={tmp_path / 'voice.wav'}",
    )
    page = open_player(context.new_page(), site, person.account, source="microphone", checked=False)
    through_microphone_check(page, "It hears you well.")
    assert until(lambda: SelfReport.objects.filter(kind="microphone").exists(), 60)
    found = SelfReport.objects.get(kind="microphone").value
    assert found["voice_dbfs"] - found["room_dbfs"] > 20
    assert (found["clipped"], found["processed"]) == (False, False)
    assert page.evaluate("localStorage.getItem('still-reed:microphone')") == DEVICE
    browser.close()


def test_a_hold_through_the_capture_device_is_measured(
    playwright, site, person, task, tmp_path, arrived
):
    voice = HeldVoice(
        VoicedPart(seconds=5.6, pitch_hz=171.0, scoop_cents=-80), lead_s=2.5, tail_s=3.0
    )
    clip = speak(voice, rate_hz=DEVICE_RATE_HZ)
    (tmp_path / "voice.wav").write_bytes(write_wav(clip.samples, clip.rate_hz))
    browser, context = with_microphone(
        playwright,
        "--use-fake-device-for-media-stream",
        "--use-fake-ui-for-media-stream",
        IN_STEP,
        f"--use-file-for-fake-audio-capture={tmp_path / 'voice.wav'}%noloop",
    )
    context.add_init_script(LISTEN_IN)
    page = open_player(context.new_page(), site, person.account, source="microphone")
    to_first_try(page)
    assert "target 5 s." in result(page)
    given = np.array(page.evaluate("window.given.flatMap((block) => Array.from(block))"))
    browser.close()

    trial = the_trial()
    assert trial.source == Trial.Source.MICROPHONE
    assert trial.total_s == pytest.approx(clip.truth.duration_s, abs=HOLD_S)
    assert trial.median_hz == pytest.approx(
        clip.truth.median_hz, abs=clip.truth.median_hz * (2 ** (PITCH_CENTS / 1200) - 1)
    )
    # Not a sample was lost, doubled or changed between the worklet and the server.
    assert arrived["rate_hz"] == clip.rate_hz
    given = np.rint(np.clip(given, -1, 1) * 32767)
    assert given.size - arrived["samples"].size < BEFORE_THE_TAKE
    assert np.max(np.abs(given[-arrived["samples"].size :] - arrived["samples"])) <= 1
    assert trial.breaks == []
    assert trial.spread_cents < 10
    assert trial.capture["echoCancellation"] == "false"
    assert trial.capture["noiseSuppression"] == "false"
    assert trial.capture["autoGainControl"] == "false"


def test_a_refused_microphone_says_so_and_offers_the_stopwatch(playwright, site, person, task):
    browser, context = with_microphone(
        playwright,
        "--use-fake-device-for-media-stream",
        "--deny-permission-prompts",
        permissions=(),
    )
    page = open_player(context.new_page(), site, person.account, source="microphone", checked=False)
    through_microphone_check(page, "The browser was not allowed to use the microphone.")
    at(page, "no_sound")
    expect(page.get_by_text("The browser was not allowed to use the microphone.")).to_be_visible()
    page.get_by_role("button", name="Use the stopwatch instead").click()
    page.get_by_role("button", name="Start").wait_for()
    settled(page)
    page.keyboard.press("Space")
    until_shown(page, 1.2)
    page.keyboard.press("Space")
    assert "timed by hand" in result(page)
    expect(page.get_by_text("all sent")).to_be_visible()
    browser.close()
    trial = the_trial()
    assert trial.source == Trial.Source.STOPWATCH
    assert trial.total_s >= 1.15  # Shown rounded.


def test_a_machine_without_a_microphone_says_so(page, site, person, task):
    open_player(page, site, person.account, source="microphone", checked=False)
    through_microphone_check(page, "No microphone was found.")
    expect(page.get_by_text("No microphone was found.")).to_be_visible()
    expect(page.get_by_role("button", name="Use the stopwatch instead")).to_be_visible()
    assert not Trial.objects.exists()
