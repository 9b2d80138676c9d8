"""Tasks led by the device: rounds, a bar before a start, glides in phases, rows of breaths, and
silence."""

import numpy as np
import pytest
from playwright.sync_api import expect

from reedcore.formats.wav import write_wav
from reedcore.synthvoice import HeldVoice, VoicedPart, speak
from tests.browser.conftest import (
    PATIENCE,
    at,
    open_player,
    programme,
    result,
    the_trial,
    to_first_task,
    to_first_try,
)
from tests.factories import item, publish_anyway, simple_document
from web.record.models import Session, Trial


@pytest.fixture
def led(page, site, person, clinician):
    def open_with(*items, **more):
        programme(person, clinician, *items, **more)
        return open_player(page, site, person.account)

    return open_with


def next_try(page):
    page.keyboard.press("Space")


def test_a_pattern_is_led_round_by_round(led):
    page = led(
        item(
            "scale_on_ng", notes=[48], pattern={"groups": [[1, 2, 1]], "bridge": 49, "cue": "lighter"},
            params={"tempo": 170, "rounds_up": 1, "rounds_down": 0, "at_bridge": "say so and go on"},
        )
    )  # fmt: skip
    to_first_task(page)
    expect(page.get_by_text("2 rounds, one after the other.")).to_be_visible()
    page.keyboard.press("Space")
    at(page, "try")
    announced = page.locator("[data-announced]")
    expect(announced).to_contain_text("Round 1 of 2, from C3. 1 more after this.")
    expect(announced).to_contain_text("A crack in the voice is fine here.")
    expect(announced).to_contain_text("lighter")
    assert "3 of 3 notes on pitch" in result(page)
    next_try(page)
    page.locator("[data-announced]", has_text="Round 2 of 2").wait_for(timeout=PATIENCE)
    guides = page.locator("[data-round]")
    assert [guides.nth(place).get_attribute("hidden") for place in (0, 1)] == ["", None]
    assert "3 of 3 notes on pitch" in result(page)
    assert [trial.figures["round"] for trial in Trial.objects.order_by("performed_at")] == [1, 2]


def test_a_bar_is_counted_and_the_start_is_held_against_it(led):
    page = led(item("breath_on_seven", params={"tempo": 160, "reps": 2}))
    to_first_try(page)
    expect(page.locator("[data-phase]")).to_contain_text("breathe in")
    assert "on its beat" in result(page)
    trial = the_trial()
    assert (trial.outcome, trial.parts[0]["why"]) == ("met", "on_beat")
    assert abs(trial.figures["late_ms"]) < 150


def test_a_glide_with_a_breath_in_it_is_three_parts(led):
    page = led(item("strong_glides", notes=[48, 55], params={"seconds": 4, "reps": 1}))
    to_first_try(page)
    phase = page.locator("[data-phase]")
    for words in ("Start steady, then glide up", "Breathe in", "Now glide down"):
        expect(phase).to_have_text(words)
    result(page)
    assert the_trial().outcome == Trial.Outcome.MET


def test_growing_breaths_are_led_by_their_row_and_end_with_a_puff(led):
    page = led(
        item("counts_growing", params={"breath_in": 1, "breath_out": 4, "tempo": 200, "cycles": 1}, row=[1, 2]),
        item("ten_fifteen", params={"breath_in": 4, "breath_out": 4, "tempo": 200, "cycles": 1}),
    )  # fmt: skip
    said = []
    page.expose_function("__said", lambda words: said.append(words))
    to_first_task(page)
    page.evaluate(
        """() => new MutationObserver(() => {
            const count = document.querySelector('.count')?.textContent;
            if (count) window.__said(count);
        }).observe(document.getElementById('screen'), {childList: true, subtree: true, characterData: true})"""
    )
    page.keyboard.press("Space")
    at(page, "air")
    row = [each for at, each in enumerate(said) if at == 0 or each != said[at - 1]]
    assert row == ["In 1", "Out 1", "In 1", "Out 1", "Out 2"]
    page.keyboard.press("1")
    at(page, "felt")
    page.keyboard.press("y")
    at(page, "task")
    page.keyboard.press("Space")
    at(page, "air")
    assert "One last puff 1" in said


def test_the_instruction_stays_in_view_during_the_task(led):
    page = led(item("straw_hold", notes=[53], params={"seconds": 1.5, "reps": 1}))
    to_first_try(page)
    kept = page.locator("[data-kept]")
    expect(kept).to_contain_text("Lips closed round the straw.")
    expect(kept.locator("img")).to_be_visible()
    result(page)


def silence(seconds, rate=16_000):
    return write_wav(np.zeros(seconds * rate), rate)


def test_silence_leads_to_the_question_about_the_cause(led):
    page = led(item("hum_hold", notes=[53], params={"seconds": 2, "reps": 1}))
    page.route("**/simulated-voice.wav*", lambda route: route.fulfill(body=silence(40)))
    to_first_try(page)
    at(page, "no_sound")
    expect(page.get_by_role("heading", name="No voice was heard for a while")).to_be_visible()
    expect(page.get_by_role("button", name="Check the microphone")).to_be_visible()
    assert not Trial.objects.exists()
    page.unroute("**/simulated-voice.wav*")
    page.keyboard.press("1")
    assert "seconds" in result(page)


RESET = {"sort": "reset", "dose": {"kind": "on_demand", "start": "2026-01-05", "a_day": 8,
         "weekdays": [0, 1, 2, 3, 4], "weeks": 52, "trigger": "after a long call"}}  # fmt: skip


def test_a_reset_beside_the_block_is_a_session_of_its_own(page, site, person, clinician):
    items = (
        item("straw_hold", notes=[53], params={"seconds": 1.5, "reps": 1}),
        item("hum_hold", notes=[53], params={"seconds": 1.5, "reps": 1}, strand="reset"),
    )
    publish_anyway(person, simple_document(*items, beside={"reset": RESET}), by=clinician)
    open_player(page, site, person.account)
    at(page, "today")
    expect(page.locator("[data-list]")).to_contain_text("Reset on a trigger, after a long call")
    page.keyboard.press("b")
    page.keyboard.press("1")
    at(page, "safety")
    page.keyboard.press("Space")
    at(page, "task")
    expect(page.get_by_role("heading", name="Hum, one note")).to_be_visible()
    page.keyboard.press("Space")
    at(page, "try")
    result(page)
    page.keyboard.press("Space")
    at(page, "felt")
    page.keyboard.press("y")
    at(page, "done")  # Nothing is asked after half a minute.
    expect(page.get_by_text("all sent")).to_be_visible()
    session = Session.objects.get()
    assert (session.sort, session.ending) == ("reset", "done")


def fan(seconds, rate=16_000):
    """Pink noise at −36 dBFS: 10 dB below a comfortable voice."""
    rng = np.random.default_rng(16)
    spectrum = np.fft.rfft(rng.standard_normal(seconds * rate))
    spectrum[1:] /= np.sqrt(np.arange(1, len(spectrum)))
    noise = np.fft.irfft(spectrum)
    return write_wav(noise * 10 ** (-36 / 20) / np.sqrt(np.mean(noise**2)), rate)


def test_a_room_that_is_too_loud_is_shown_during_the_take(led):
    page = led(item("hum_hold", notes=[53], params={"seconds": 2, "reps": 1}))
    page.route("**/simulated-voice.wav*", lambda route: route.fulfill(body=fan(40)))
    to_first_try(page)
    expect(page.get_by_text("It is too noisy to hear you.")).to_be_visible()
    # It stops waiting and says why there was no voice.
    at(page, "no_sound")
    expect(page.get_by_role("heading", name="It is too noisy to hear you.")).to_be_visible()


def two_voices(seconds):
    """A held F3, and from its second second another voice a tenth above it, as loud or louder."""
    own = HeldVoice(VoicedPart(seconds=seconds, pitch_hz=174.6), lead_s=0.6, tail_s=1.0)
    clip = speak(own, rate_hz=44_100)
    made = clip.samples.astype(float)
    call = speak(
        HeldVoice(VoicedPart(seconds=0.35, pitch_hz=440.0), lead_s=0.0, tail_s=0.1), rate_hz=44_100
    )
    loud = 6 * call.samples.astype(float)
    for begins_s in np.arange(2.0, seconds, 0.8):
        at_sample = round(begins_s * clip.rate_hz)
        part = loud[: made.size - at_sample]
        made[at_sample : at_sample + part.size] += part
    return write_wav(np.clip(made, -1, 1), clip.rate_hz)


def test_another_voice_is_shown_during_the_take(led):
    page = led(item("hum_hold", notes=[53], params={"seconds": 8, "reps": 1}))
    page.route("**/simulated-voice.wav*", lambda route: route.fulfill(body=two_voices(9)))
    to_first_try(page)
    page.get_by_text("Another voice or sound is heard.").wait_for(timeout=PATIENCE)
