"""A WAV file through the page, and every screen for those who do not see it or see it small."""

import numpy as np
import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import expect

from reedcore.formats.wav import write_wav
from reedcore.synthvoice import HeldVoice, Voiced, speak
from tests.browser.conftest import sign_in, until_shown
from tests.factories import trial
from web.practice.models import Trial

CLIP = speak(HeldVoice(Voiced(seconds=5.5, pitch_hz=174.61)), rate_hz=16_000)


def choose_file(page, tmp_path, data):
    (tmp_path / "try.wav").write_bytes(data)
    page.get_by_label("Sound from").select_option("file")
    page.locator("[data-file]").set_input_files(tmp_path / "try.wav")
    page.get_by_role("button", name="Measure the file").click()


def test_a_file_is_measured(practice, tmp_path):
    choose_file(practice, tmp_path, write_wav(CLIP.samples, CLIP.rate_hz))
    expect(practice.locator("[data-sentence]")).to_contain_text("on F3; target 5.")
    assert Trial.objects.get().total_s == pytest.approx(5.5, abs=0.1)


def test_what_is_no_sound_is_said_beside_the_choice(practice, tmp_path):
    choose_file(practice, tmp_path, b"not a sound")
    expect(practice.get_by_role("alert")).to_contain_text("not a WAV recording")
    # and the page goes on
    choose_file(practice, tmp_path, write_wav(np.zeros(32_000), 16_000))
    expect(practice.locator("[data-sentence]")).to_contain_text("No held voice was heard")


def test_forgetting_the_file_is_said(practice):
    practice.get_by_label("Sound from").select_option("file")
    practice.get_by_role("button", name="Measure the file").click()
    expect(practice.get_by_role("alert")).to_contain_text("Choose a WAV file first.")


def test_a_try_begun_again_is_not_kept(practice):
    practice.get_by_label("Sound from").select_option("simulated")
    practice.get_by_role("heading").click()
    practice.keyboard.press("Space")
    until_shown(practice, 1.0)
    practice.keyboard.press("r")
    expect(practice.get_by_text("That one was not kept.")).to_be_visible()
    assert not Trial.objects.exists()


def violations(page):
    found = Axe().run(page).response["violations"]
    return [(each["id"], [node["html"][:90] for node in each["nodes"]]) for each in found]


@pytest.mark.parametrize("scheme", ["light", "dark"])
def test_no_screen_shuts_anybody_out(page, site, clinician, person, task, scheme):
    page.emulate_media(color_scheme=scheme)
    trial(task)
    sign_in(page.context, site, clinician)
    for path in (
        "/clients/",
        f"/clients/{person.pk}/",
        f"/clients/{person.pk}/prescribe/",
        f"/clients/{person.pk}/practice-link/",
        "/no-such-page/",
    ):
        page.goto(f"{site}{path}")
        assert violations(page) == [], path
    page.context.clear_cookies()
    for path in ("/sign-in/", f"/practice/with/{person.practice_code}/"):
        page.goto(f"{site}{path}")
        assert violations(page) == [], path
    sign_in(page.context, site, person.account)
    page.goto(f"{site}/practice/")
    assert violations(page) == []


@pytest.mark.parametrize("width", [320, 390, 1280])
def test_the_practice_screen_fits(practice, width):
    practice.set_viewport_size({"width": width, "height": 800})
    sideways = practice.evaluate(
        "document.documentElement.scrollWidth - document.documentElement.clientWidth"
    )
    assert sideways == 0
    small = practice.evaluate(
        """[...document.querySelectorAll('p, label, button, h1, select')]
        .filter((each) => each.offsetParent && parseFloat(getComputedStyle(each).fontSize) < 20)
        .map((each) => each.outerHTML)"""
    )
    assert small == []
    low = practice.evaluate(
        """[...document.querySelectorAll('button, select, input:not([type=hidden])')]
        .filter((each) => each.offsetParent && each.getBoundingClientRect().height < 46)
        .map((each) => each.outerHTML)"""
    )
    assert low == []
