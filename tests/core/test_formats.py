"""WAV, traces and CSV: written and read back."""

import csv
import io
import struct
from datetime import UTC, datetime

import numpy as np
import pytest
import soundfile

from reedcore.acoustics import analyse
from reedcore.errors import EmptyRecording, NotARecording
from reedcore.formats.table_csv import write_table
from reedcore.formats.trace import PitchTrace, pack_trace, trace_of, unpack_trace
from reedcore.formats.trials_csv import TrialRow
from reedcore.formats.wav import read_wav, write_wav
from tests.core.sounds import held


def wav(samples, rate, subtype):
    """Return a file written by another library than the one under test."""
    out = io.BytesIO()
    soundfile.write(out, samples, rate, subtype=subtype, format="WAV")
    return out.getvalue()


@pytest.mark.parametrize("rate", [8_000, 44_100, 96_000])
@pytest.mark.parametrize("channels", [1, 2, 6])
@pytest.mark.parametrize("subtype", ["PCM_U8", "PCM_16", "PCM_24", "PCM_32", "FLOAT", "DOUBLE"])
def test_every_kind_of_wav_is_measured_alike(rate, channels, subtype):
    mono = held(200.0, 1.5, rate=rate, before=0.3, after=0.3)
    samples = np.stack([mono] + [np.zeros_like(mono)] * (channels - 1), axis=1)
    recording = read_wav(wav(samples, rate, subtype))
    assert recording.rate_hz == rate
    (hold,) = analyse(recording.samples, recording.rate_hz, target_hz=200.0).holds
    assert hold.duration_s == pytest.approx(1.5, abs=0.05)
    assert abs(hold.target_error_cents) < 3
    assert hold.level.mean_dbfs == pytest.approx(-12.0, abs=0.4)


GOOD = wav(held(200.0, 1.0), 16_000, "PCM_16")
BROKEN = {
    "text": (b"this is not sound at all", NotARecording),
    "nothing": (b"", EmptyRecording),
    "a header and no more": (GOOD[:20], NotARecording),
    "no samples": (wav(np.zeros(0), 16_000, "PCM_16"), EmptyRecording),
    "another RIFF file": (b"RIFF" + struct.pack("<I", 40) + b"AVI " + bytes(40), NotARecording),
    "a compressed kind": (wav(held(200.0, 1.0), 16_000, "ALAW"), NotARecording),
    "a rate of nothing": (GOOD[:24] + bytes(4) + GOOD[28:], NotARecording),
    "noise behind a header": (GOOD[:12] + bytes(range(256)) * 4, NotARecording),
}


@pytest.mark.parametrize(("data", "refusal"), BROKEN.values(), ids=BROKEN.keys())
def test_an_invalid_recording_is_refused(data, refusal):
    with pytest.raises(refusal):
        read_wav(data)


def test_a_file_that_breaks_off_gives_what_is_there():
    recording = read_wav(GOOD[: len(GOOD) // 2])
    assert recording.duration_s == pytest.approx(1.3, abs=0.01)


def test_any_cut_of_a_good_file_is_read_or_refused():
    for cut in range(0, 200):
        try:
            read_wav(GOOD[:cut])
        except (NotARecording, EmptyRecording):
            continue


def test_wav_out_and_in():
    samples = held(200.0, 0.5)
    back = read_wav(write_wav(samples, 16_000)).samples / 32768
    assert np.max(np.abs(back - samples)) < 1e-4


def test_a_trace_keeps_cents_tenths_and_gaps():
    trace = PitchTrace(np.array([-1502.4, np.nan, 0.0]), np.array([-20.04, -np.inf, np.nan]))
    back = unpack_trace(pack_trace(trace))
    np.testing.assert_array_equal(back.cents, [-1502, np.nan, 0])
    np.testing.assert_array_equal(back.level_dbfs, [-20.0, np.nan, np.nan])


def test_a_trace_has_a_pair_every_20_ms():
    trace = trace_of(np.full(100, 440.0), np.full(100, -20.0))
    assert len(trace.cents) == 50
    assert (trace.cents == 0).all()


def row(**changes):
    known = {
        "try_id": "1", "performed_at": datetime(2026, 11, 9, 18, 0, tzinfo=UTC), "client": "A. B.",
        "programme_version": 1, "task": "hold oh", "note": "F3", "source": "microphone",
        "target_s": 15.0, "seconds_counted": "total", "total_s": 14.2, "steady_s": None,
        "pitch_median_hz": None, "pitch_error_cents": -12.5, "pitch_spread_cents": None,
        "pitch_drift_cents": None, "on_pitch_share": None, "breaks": 0,
        "level_relative_dbfs": None, "snr_db": None, "outcome": "not_met",
        "not_judged_because": "",
    }  # fmt: skip
    return TrialRow(**{**known, **changes})


def read_back(*rows):
    return list(csv.DictReader(io.StringIO("".join(write_table(TrialRow, rows)))))


def test_unknown_is_empty_and_nothing_is_zero_by_accident():
    (back,) = read_back(row())
    assert back["total_s"] == "14.2"
    assert back["steady_s"] == ""
    assert back["breaks"] == "0"
    assert back["pitch_error_cents"] == "-12.5"
    assert back["performed_at"] == "2026-11-09T18:00:00+00:00"


@pytest.mark.parametrize("name", ["=1+1", "@sum(a1)", "+4", "-4", "\tx"])
def test_a_name_never_runs_as_a_formula(name):
    (back,) = read_back(row(client=name))
    assert back["client"] == f"'{name}"


def test_commas_quotes_and_line_ends_survive():
    name = 'Lowe, "Perpetua"\nferry'
    assert read_back(row(client=name))[0]["client"] == name
