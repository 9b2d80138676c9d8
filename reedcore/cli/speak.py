"""``speak`` writes a synthetic clip with its true figures."""

from __future__ import annotations

import argparse
import json
import sys
from dataclasses import asdict
from pathlib import Path

from reedcore.errors import Refusal
from reedcore.formats.wav import write_wav
from reedcore.pitch import Note
from reedcore.synthvoice import VOWELS, Clip, HeldVoice, Room, VoicedPart, speak

from .commands import DONE, NOT_READ
from .notes import note
from .wording import line


def add_arguments(name: str, parser: argparse.ArgumentParser) -> None:
    """Add the arguments of ``speak``."""
    parser.add_argument("file", metavar="FILE.wav")
    parser.add_argument("--note", type=note, default=Note.named("F3"))
    parser.add_argument("--seconds", type=float, default=5.0)
    parser.add_argument("--vowel", choices=sorted(VOWELS), default="oh")
    parser.add_argument("--rate", type=int, default=48_000, metavar="HZ")
    parser.add_argument("--room", type=float, default=-66.0, metavar="DBFS")
    parser.add_argument("--seed", type=int, default=1)
    for field, value in VoicedPart.__dataclass_fields__.items():
        if value.type == "float" and field != "seconds":
            parser.add_argument(f"--{field.replace('_', '-')}", type=float, default=None)
    parser.add_argument(
        "--break", dest="breaks", nargs=2, type=float, action="append", default=[],
        metavar=("AT", "LENGTH"),
    )  # fmt: skip
    parser.set_defaults(run=_speak)


def _speak(options: argparse.Namespace) -> int:
    named = {name: getattr(options, name, None) for name in VoicedPart.__dataclass_fields__}
    changes = {name: value for name, value in named.items() if value is not None}
    changes["pitch_hz"] = options.note.hz()
    changes["breaks"] = tuple(map(tuple, options.breaks))
    held = HeldVoice(VoicedPart(**changes), room=Room(options.room), seed=options.seed)
    try:
        clip = speak(held, rate_hz=options.rate)
    except Refusal as refusal:
        print(line(refusal), file=sys.stderr)
        return NOT_READ
    path = Path(options.file)
    path.write_bytes(write_wav(clip.samples, clip.rate_hz))
    truth = path.with_suffix(".json")
    truth.write_text(json.dumps(_truth(clip), indent=1) + "\n")
    print(f"{path} and its truth, {truth}")
    return DONE


def _truth(clip: Clip) -> dict[str, object]:
    span = clip.truth
    return {
        "sample_rate_hz": clip.rate_hz,
        "start_s": span.start_s,
        "end_s": span.end_s,
        "duration_s": span.duration_s,
        "f0_median_hz": span.median_hz,
        "breaks": [{"start_s": start, "end_s": end} for start, end in span.breaks],
        "voice": asdict(span.part),
    }
