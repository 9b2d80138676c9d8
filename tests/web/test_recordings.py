"""Tries from files and from the stopwatch: measured correctly, or rejected with a sentence."""

import io
import uuid
from functools import cache

import numpy as np
import pytest
import soundfile
from django.urls import reverse

from reedcore.synthvoice import HeldVoice, Room, VoicedPart, speak
from tests.web.conftest import entry, send
from web.record.models import Trace, Trial


def wav(samples, rate=16_000, subtype="PCM_16"):
    out = io.BytesIO()
    soundfile.write(out, samples, rate, subtype=subtype, format="WAV")
    return out.getvalue()


def voice(rate=16_000, **changes):
    return speak(HeldVoice(VoicedPart(5.4, 174.61), **changes), rate_hz=rate).samples


def hand_in(as_client, task, data, key=None):
    said = entry(task.programme.client, "sound", task=task.pk, source="file")
    said["key"] = key or said["key"]
    return send(as_client, said, recording=data)


def test_a_recording_becomes_a_trial(as_client, task):
    response = hand_in(as_client, task, wav(voice()))
    assert response.status_code == 200
    trial = Trial.objects.get()
    assert trial.source == Trial.Source.FILE
    assert trial.total_s == pytest.approx(5.4, abs=0.1)
    assert abs(trial.error_cents) < 5
    assert trial.outcome == Trial.Outcome.MET
    assert Trace.objects.get(trial=trial).packed
    assert response.json()["sentence"] == "5.4 seconds, steady, on F3; target 5 s."
    assert "5.4 seconds, steady, on F3; target 5 s." in response.json()["stage"]


KINDS = [
    (rate, subtype, channels)
    for rate in (8_000, 96_000)
    for subtype in ("PCM_U8", "PCM_24", "FLOAT")
    for channels in (1, 2)
]


@pytest.mark.parametrize(("rate", "subtype", "channels"), KINDS)
def test_odd_kinds_of_wav_are_measured_rightly(as_client, task, rate, subtype, channels):
    mono = voice(rate, room=Room(-50))
    samples = mono if channels == 1 else np.stack([mono, 0 * mono], axis=1)
    assert hand_in(as_client, task, wav(samples, rate, subtype)).status_code == 200
    trial = Trial.objects.get()
    assert trial.total_s == pytest.approx(5.4, abs=0.15)
    assert abs(trial.error_cents) < 6


def lasting(seconds, rate=8_000):
    """Return a hold followed by an empty room, this long in total."""
    samples = np.concatenate([voice(rate), np.zeros(seconds * rate)])[: seconds * rate]
    noise = np.random.default_rng(0).normal(0, 1e-3, len(samples))
    return wav(samples + noise, rate)


def test_five_minutes_are_measured_and_no_more(as_client, task):
    assert hand_in(as_client, task, lasting(300)).status_code == 200
    assert Trial.objects.get().total_s == pytest.approx(5.4, abs=0.15)
    response = hand_in(as_client, task, lasting(301))
    assert response.status_code == 422
    assert "up to 300 can be measured" in response.json()["sentence"]
    assert Trial.objects.count() == 1


def test_silence_is_stored_as_a_trial_without_a_result(as_client, task):
    response = hand_in(as_client, task, wav(np.zeros(5 * 16_000)))
    assert response.status_code == 200
    trial = Trial.objects.get()
    assert trial.total_s is None
    assert trial.outcome == Trial.Outcome.NOT_JUDGED
    assert not Trace.objects.exists()
    answer = response.json()
    assert "No held voice was heard" in answer["sentence"]
    assert any(
        "The microphone picked up nothing. Check that it is on, uncovered and selected." in words
        for words in answer["more"]
    )
    assert "3 to go" in answer["stage"]


@cache
def good():
    """A hold of five seconds: made at first use, because every test process loads this file."""
    return wav(voice())


#: Made like it.
REFUSED = {
    "text": (lambda: b"once upon a tide", "not a readable WAV recording"),
    "nothing": (lambda: b"", "This recording is empty. Record it again."),
    "half a header": (lambda: good()[:30], "not a readable WAV recording"),
    "no samples": (lambda: wav(np.zeros(0)), "This recording is empty. Record it again."),
    "too slow": (lambda: wav(voice(), 4_000), "between 8000 and 96000"),
    "not numbers": (
        lambda: wav(np.full(16_000, np.nan), subtype="FLOAT"),
        "damaged 0.0 seconds in",
    ),
}


@pytest.mark.parametrize(("data", "says"), REFUSED.values(), ids=REFUSED.keys())
def test_an_unmeasurable_recording_is_refused_with_a_sentence(as_client, task, data, says):
    response = hand_in(as_client, task, data())
    assert response.status_code == 422
    assert says in response.json()["sentence"]
    assert not Trial.objects.exists()


def test_a_file_beyond_reason_is_refused_unread(as_client, task, settings):
    settings.LARGEST_UPLOAD_BYTES = 1024 * 1024
    response = hand_in(as_client, task, bytes(1024 * 1024 + 1))
    assert response.status_code == 422
    assert "larger than 1 MB" in response.json()["sentence"]


def test_no_file_and_no_key_are_refused(as_client, task):
    said = entry(task.programme.client, "sound", task=task.pk, source="file")
    assert send(as_client, said).status_code == 422
    assert hand_in(as_client, task, good(), key="not a key").status_code == 422
    assert not Trial.objects.exists()


def test_the_same_try_sent_three_times_is_one_try(as_client, task):
    key = str(uuid.uuid4())
    answers = [hand_in(as_client, task, good(), key=key).json() for _ in range(3)]
    assert Trial.objects.count() == 1
    # Each has a receipt, which is signed again.
    assert all(each.pop("receipt") for each in answers)
    assert answers[0] == answers[1] == answers[2]


def test_a_failure_while_saving_leaves_nothing_half_saved(as_client, task, monkeypatch):
    def fail(*args, **kwargs):
        raise RuntimeError("the disk is full")

    monkeypatch.setattr(Trace.objects, "create", fail)
    as_client.raise_request_exception = False
    assert hand_in(as_client, task, good()).status_code == 500
    assert not Trial.objects.exists()


def by_hand(as_client, task, seconds, key=None):
    said = entry(task.programme.client, "timed", task=task.pk, seconds=seconds)
    said["key"] = key or said["key"]
    return send(as_client, said)


def test_a_hold_timed_by_hand_is_marked_and_its_pitch_not_judged(as_client, task):
    response = by_hand(as_client, task, 6.42)
    trial = Trial.objects.get()
    assert trial.source == Trial.Source.STOPWATCH
    assert trial.total_s == 6.42
    assert trial.outcome == Trial.Outcome.NOT_JUDGED
    assert trial.median_hz is None
    assert "6.4 seconds, timed by hand; target 5 s." in response.json()["stage"]


@pytest.mark.parametrize("seconds", [0.1, -3, 4000, float("nan"), float("inf"), "x", None])
def test_a_time_no_hand_took_is_refused(as_client, task, seconds):
    response = by_hand(as_client, task, seconds)
    assert response.status_code == 422
    assert response.json()["sentence"]
    assert not Trial.objects.exists()


def test_a_trial_counts_on_the_clinics_day(as_client, task):
    by_hand(as_client, task, 5)
    by_hand(as_client, task, 5)
    page = as_client.get(reverse("practice:today")).content.decode()
    assert "1 to go" in page
