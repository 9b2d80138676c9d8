"""``python -m reedcore``: tables for people, JSON for programs, one clear line for a bad file."""

import json
import subprocess
import sys
from pathlib import Path

import pytest

from reedcore.cli.commands import main
from reedcore.cli.wording import LINES
from reedcore.errors import refusal_classes
from reedcore.formats.wav import write_wav
from reedcore.synthvoice import HeldVoice, Hiss, Silence, Talk, VoicedPart, render, speak

ROOT = Path(__file__).resolve().parents[2]


@pytest.fixture
def folder(tmp_path):
    def write(name, samples, rate=16_000):
        (tmp_path / name).write_bytes(write_wav(samples, rate))
        return str(tmp_path / name)

    clip = speak(HeldVoice(VoicedPart(3.0, 349.2)), rate_hz=16_000)
    write("hold.wav", clip.samples)
    write("silence.wav", clip.samples * 0)
    (tmp_path / "bad.wav").write_bytes(b"not a sound")
    return tmp_path


def run(capsys, *words):
    code = main([str(word) for word in words])
    said = capsys.readouterr()
    return code, said.out, said.err


def test_the_processing_of_the_device_is_an_option(folder, capsys):
    for words, reasons in (((), []), (("--processed",), ["processed"])):
        _, out, _ = run(capsys, "analyse", folder / "hold.wav", "--json", *words)
        assert json.loads(out)["quality"]["reasons"] == reasons


def test_json_is_one_object_a_line_with_every_field(folder, capsys):
    code, out, _ = run(
        capsys, "analyse", folder / "hold.wav", folder / "silence.wav", "--target", "F4", "--json"
    )
    assert code == 0
    hold_file, silent_file = map(json.loads, out.splitlines())
    assert list(hold_file) == [
        "file", "sample_rate_hz", "duration_s", "quality", "holds", "glide", "s_to_z", "speech",
    ]  # fmt: skip
    assert list(hold_file["quality"]) == [
        "usable", "reasons", "clipped_fraction", "noise_floor_dbfs", "snr_db",
    ]  # fmt: skip
    (hold,) = hold_file["holds"]
    assert list(hold) == [
        "kind", "start_s", "end_s", "duration_s", "f0_median_hz", "f0_sd_cents", "drift_cents",
        "target_error_cents", "level_mean_dbfs", "level_sd_db", "level_slope_db_per_s", "breaks",
        "voiced_fraction", "cpps_db", "jitter_percent", "shimmer_percent", "hnr_db", "ltas_slope_db",
        "ltas_tilt_db_per_octave", "alpha_ratio_db", "flutter", "tremor", "onset_rise_ms", "steady_s", "end_uncertainty_s",
        "level_end_fall_db", "on_pitch",
    ]  # fmt: skip
    assert hold["duration_s"] == pytest.approx(3.0, abs=0.1)
    assert hold["on_pitch"] is True
    assert silent_file["holds"] == []
    assert silent_file["quality"] == {
        "usable": False, "reasons": ["silent"], "clipped_fraction": 0.0,
        "noise_floor_dbfs": -120.0, "snr_db": None,
    }  # fmt: skip


def test_a_bad_file_gets_one_line_and_the_others_are_still_done(folder, capsys):
    code, out, err = run(
        capsys, "analyse", folder / "bad.wav", folder / "missing.wav", folder / "hold.wav", "--json"
    )
    assert code == 2
    assert len(out.splitlines()) == 1
    assert json.loads(out)["file"].endswith("hold.wav")
    bad, missing = err.splitlines()
    assert "bad.wav: not a WAV recording that can be read" in bad
    assert "missing.wav: No such file" in missing


def test_the_table_can_be_read(folder, capsys):
    code, out, _ = run(capsys, "analyse", folder / "hold.wav", folder / "silence.wav")
    assert code == 0
    assert "held s" in out
    assert "no hold found" in out


def test_shorter_holds_are_not_listed(folder, capsys):
    _, out, _ = run(capsys, "analyse", folder / "hold.wav", "--min-hold", "4", "--json")
    assert json.loads(out)["holds"] == []


def test_the_task_option_adds_the_figures_of_that_task(tmp_path, capsys):
    clip = render((Silence(1), Hiss(3), VoicedPart(3, 140.0), Silence(1)), rate_hz=16_000)
    (tmp_path / "sz.wav").write_bytes(write_wav(clip.samples, 16_000))
    _, out, _ = run(capsys, "analyse", tmp_path / "sz.wav", "--task", "s_to_z", "--json")
    pair = json.loads(out)["s_to_z"]
    assert pair["gap_s"] == 0.0
    assert pair["z_f0_median_hz"] == pytest.approx(140.0, rel=0.005)
    assert pair["z_onset_rise_ms"] > 0
    talk = render((Silence(1), Talk(4), Silence(1)), rate_hz=16_000)
    (tmp_path / "talk.wav").write_bytes(write_wav(talk.samples, 16_000))
    _, out, _ = run(capsys, "analyse", tmp_path / "talk.wav", "--task", "speech", "--json")
    speech = json.loads(out)["speech"]
    assert {"voiced_s", "pauses", "groups", "breaths_per_min", "f0_median_hz"} <= set(speech)
    _, out, _ = run(capsys, "analyse", tmp_path / "sz.wav", "--task", "glide", "--json")
    assert json.loads(out)["glide"]["direction"] == "steady"
    siren = ((0.0, 150.0), (1.5, 300.0), (3.0, 150.0), (4.5, 300.0), (6.0, 150.0))
    turning = render((Silence(1), VoicedPart(6, siren), Silence(1)), rate_hz=16_000)
    (tmp_path / "siren.wav").write_bytes(write_wav(turning.samples, 16_000))
    _, out, _ = run(capsys, "analyse", tmp_path / "siren.wav", "--task", "glide", "--json")
    glide = json.loads(out)["glide"]
    assert glide["cycles"] == 2
    assert glide["rise_semitones"] == pytest.approx(24.0, abs=1.5)
    up = glide["segments"][0]
    assert up["semitones"] == pytest.approx(12.0, abs=1.0)
    assert up["semitones_per_s"] == pytest.approx(8.0, rel=0.1)


def test_speak_writes_a_clip_and_its_truth(tmp_path, capsys):
    path = tmp_path / "made.wav"
    code, _, _ = run(
        capsys, "speak", path, "--note", "C4", "--seconds", "2.5", "--break", "1", "0.1"
    )
    assert code == 0
    truth = json.loads(path.with_suffix(".json").read_text())
    _, out, _ = run(capsys, "analyse", path, "--json", "--target", "C4")
    (hold,) = json.loads(out)["holds"]
    assert hold["duration_s"] == pytest.approx(truth["duration_s"], abs=0.1)
    assert len(hold["breaks"]) == len(truth["breaks"]) == 1


def test_an_impossible_voice_is_refused(tmp_path, capsys):
    code, _, err = run(capsys, "speak", tmp_path / "x.wav", "--seconds", "9999")
    assert code == 2
    assert "9999" in err
    assert not (tmp_path / "x.wav").exists()


@pytest.mark.parametrize("words", [["analyse"], ["analyse", "x", "--target", "H9"], ["sing"]])
def test_a_wrong_call_says_how(words, capsys):
    with pytest.raises(SystemExit) as stopped:
        main(words)
    assert stopped.value.code == 2
    assert "usage" in capsys.readouterr().err


def test_the_command_line_runs_as_a_module(folder):
    done = subprocess.run(
        [sys.executable, "-m", "reedcore", "analyse", str(folder / "hold.wav"), "--json"],
        capture_output=True, text=True, cwd=ROOT,
    )  # fmt: skip
    assert done.returncode == 0
    assert json.loads(done.stdout)["quality"]["usable"]


def test_every_refusal_has_its_line():
    assert {refusal.code for refusal in refusal_classes()} == set(LINES)
