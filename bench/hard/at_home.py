"""Trials in a client's room: 8 s holds on a note, judged as in the product.

``python -m bench.hard.at_home`` prints, by kind of disturbance, how many trials were right, not
judged (or nothing was told), and wrong although they were shown as sure. The sources of the
disturbances (diphone, formant and statistical speech, physical models, noise) share nothing with
the voice.
"""

from __future__ import annotations

import argparse
from collections import Counter, defaultdict
from collections.abc import Callable, Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass

import numpy as np
from scipy.signal import butter, sosfilt

from reedcore.measures import TrialContext
from reedcore.measures.common import TrialGoal
from reedcore.measures.trial import measure_trial
from reedcore.pitch.notes import Note
from reedcore.targets import HoldTarget, Verdict

from ..sections import put
from . import elsewhere, rooms, source
from .case import rng_of
from .held_out_sources import synthesise_instrument, synthesise_speech, synthesise_vowel
from .source import RATE, Array

HELD_S, TARGET_S = 8.0, 7.5
VOICE_DBFS = -22.0
NOTES = (48, 57, 65)
#: Level of the disturbance under the voice, dB.
UNDER = (25.0, 20.0, 15.0, 10.0, 5.0)
#: A length is right within this, s (the bar for a helper who speaks during a hold).
LENGTH_S = 0.3
LINES = (
    "Go on, well done, keep it going. ",
    "That is very good. You are nearly there. ",
    "The weather tomorrow will be mild, with some rain in the north. ",
)


@dataclass(frozen=True)
class HomeRecording:
    """A recording; ``is_held`` where the client's own voice held the note."""

    kind: str
    name: str
    make: Callable[[], Array]
    midi: int
    is_held: bool = True


def _hold(name: str, hz: float) -> Array:
    rng = rng_of(name)
    scale = 1.0 if hz < 170 else 1.15 if hz < 300 else 1.25
    mouth = source.mouth(("ah", "oo", "ee")[rng.integers(3)], scale=scale)
    return source.voice(source.steady(HELD_S, hz, rng=rng), mouth, rng=rng)


def _in_room(name: str, hz: float) -> Array:
    return rooms.scene(_hold(name, hz), dbfs=VOICE_DBFS, rng=rng_of(name))


def _long(sound: Array, many: int) -> Array:
    return np.tile(sound, 1 + many // max(1, len(sound)))[:many]


def _helper(many: int, rng: np.random.Generator) -> Array:
    words = LINES[rng.integers(2)]
    said = elsewhere.espeak(words, "en-gb", pitch=int(rng.integers(30, 80)))
    out, at = np.zeros(many), round((1.5 + 4.0 * rng.random()) * RATE)
    part = said[: many - at]
    out[at : at + len(part)] = part
    return out


def _speech_at_end(many: int, rng: np.random.Generator) -> Array:
    said = elsewhere.flite("Well done!", "slt")
    out, at = np.zeros(many), round((1.0 + HELD_S - 0.7) * RATE)
    part = said[: many - at]
    out[at : at + len(part)] = part
    return out


def _television(many: int, rng: np.random.Generator) -> Array:
    said = np.concatenate([elsewhere.flite(LINES[2], "rms"), synthesise_speech(LINES[2])])
    return _long(np.roll(said, int(rng.integers(len(said)))), many)


def _music(many: int, rng: np.random.Generator) -> Array:
    tune = [
        synthesise_instrument("flute", float(220 * 2 ** (step / 12)), 0.5)
        for step in rng.integers(0, 13, 6)
    ]
    return _long(np.concatenate(tune), many)


def _fan(many: int, rng: np.random.Generator) -> Array:
    return rooms.coloured(many, rng=rng, tilt=0.97)


def _traffic(many: int, rng: np.random.Generator) -> Array:
    low = sosfilt(butter(2, 400, fs=RATE, output="sos"), rng.standard_normal(many))
    passing = 0.3 + np.abs(np.sin(np.pi * np.arange(many) / (4.0 * RATE) + rng.random()))
    return low * passing


def _second_voice(many: int, rng: np.random.Generator) -> Array:
    hz = float(rng.choice([165.0, 262.0, 392.0]))
    return _long(
        synthesise_vowel("aeo"[rng.integers(3)], hz, many / RATE, vibrato=(5.5, 40.0)), many
    )


def _clicks(many: int, rng: np.random.Generator) -> Array:
    out = np.zeros(many)
    for at in rng.integers(0, many - 400, many // RATE * 2):
        out[at : at + 300] += rng.standard_normal(300) * np.exp(-np.arange(300) / 60)
    return out


BESIDE: dict[str, Callable[[int, np.random.Generator], Array]] = {
    "helper during": _helper,
    "helper at the end": _speech_at_end,
    "television": _television,
    "music": _music,
    "fan": _fan,
    "traffic": _traffic,
    "second voice": _second_voice,
    "clicks": _clicks,
}


def _sounding_level(sound: Array, dbfs: float) -> Array:
    """Scale so that the part that sounds, not the silence about it, has this level."""
    loud = sound[np.abs(sound) > 0.02 * np.abs(sound).max()]
    return sound / np.sqrt(np.mean(loud**2) + 1e-20) * 10.0 ** (dbfs / 20.0) / np.sqrt(2.0)


def cases() -> Iterator[HomeRecording]:
    """Yield the gallery: clean holds, holds with a disturbance, and disturbances alone."""
    for midi in NOTES:
        hz = Note(midi).hz()
        for number in range(10):
            name = f"clean {hz:.0f} Hz, {number}"
            yield HomeRecording("clean", name, lambda name=name, hz=hz: _in_room(name, hz), midi)
    for kind, beside in BESIDE.items():
        for midi in NOTES:
            hz = Note(midi).hz()
            for under in UNDER:
                name = f"{kind}, {under:.0f} dB under {hz:.0f} Hz"

                def make(name=name, hz=hz, beside=beside, under=under):
                    sound = _in_room(name, hz)
                    more = beside(len(sound), rng_of(name + "+"))
                    return sound + _sounding_level(more, VOICE_DBFS - under)

                yield HomeRecording(kind, name, make, midi)
            name = f"{kind} alone, for {hz:.0f} Hz"

            def alone(name=name, beside=beside):
                many = round((2.0 + HELD_S) * RATE)
                rng = rng_of(name)
                room = rooms.at_level(rooms.coloured(many, rng=rng), -66.0)
                return room + _sounding_level(beside(many, rng), VOICE_DBFS)

            yield HomeRecording(f"{kind}, alone", name, alone, midi, is_held=False)
    for midi in NOTES:
        hz = Note(midi).hz()
        for gap_ms in (30, 60, 120, 250, 400):
            name = f"dropouts of {gap_ms} ms, {hz:.0f} Hz"

            def with_gap(name=name, hz=hz, gap_ms=gap_ms):
                sound, rng = _in_room(name, hz), rng_of(name + "-")
                for at in rng.integers(2 * RATE, round((HELD_S - 0.5) * RATE), 3):
                    sound[at : at + gap_ms * RATE // 1000] = 0.0
                return sound

            yield HomeRecording("dropouts", name, with_gap, midi)


def verdict_on(case: HomeRecording) -> tuple[str, str]:
    """Return right, unsure or wrong, and the measured figures."""
    note = Note(case.midi)
    goal = TrialGoal("hold", HoldTarget(TARGET_S, note=note), TARGET_S, note_hz=note.hz())
    sound = np.clip(case.make(), -1.0, 1.0)
    found = measure_trial(goal, TrialContext(), sound, RATE)
    total, spread = found.columns.get("total_s"), found.columns.get("spread_cents")
    overall = found.judgement.overall
    words = f"{overall}, {total} s, spread {spread}, {found.columns['reasons']}"
    if total is None or overall is Verdict.NOT_JUDGED:
        return ("unsure" if case.is_held else "right"), words
    if not case.is_held:
        return "wrong", words
    is_right = overall is Verdict.MET and abs(total - HELD_S) <= LENGTH_S
    return ("right" if is_right and (spread is None or spread < 30) else "wrong"), words


def _judge_case(name: str) -> tuple[str, str, str, str]:
    case = next(each for each in cases() if each.name == name)
    return (case.kind, name, *verdict_on(case))


def main() -> None:
    """Measure the gallery, and write its table into docs/benchmarks.md."""
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("--show", action="store_true", help="what was wrong")
    asked.add_argument("--kind")
    given = asked.parse_args()
    names = [each.name for each in cases() if given.kind in (None, each.kind)]
    with ProcessPoolExecutor() as pool:
        found = list(pool.map(_judge_case, names, chunksize=4))
    by_kind: dict[str, Counter[str]] = defaultdict(Counter)
    for kind, _, verdict, _ in found:
        by_kind[kind][verdict] += 1
        by_kind["all"][verdict] += 1
    rows = [
        "| in the room | recordings | right | not judged | wrong, shown as sure |",
        "|---|---|---|---|---|",
    ]
    for kind, counts in by_kind.items():
        told = " | ".join(str(counts[each]) for each in ("right", "unsure", "wrong"))
        rows.append(f"| {kind} | {counts.total()} | {told} |")
    print("\n".join(rows))
    if given.show:
        print(
            "\n".join(f"{name}: {words}" for _, name, verdict, words in found if verdict == "wrong")
        )
    if given.kind is None:
        intro = (
            "By `python -m bench.hard.at_home`: holds of 8 s, with a disturbance 25 to 5 dB under"
            " the voice, and the disturbances alone, judged as a trial is. Right: on target, within"
            " 0.3 s, with no spread that is not there; alone: not judged."
        )
        put("At home", "\n".join([intro, "", *rows]))


if __name__ == "__main__":
    main()
