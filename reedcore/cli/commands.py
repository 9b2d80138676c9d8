"""``analyse`` measures files, ``speak`` writes a synthetic clip and its truth; ``check``,
``decide``, ``judge``, ``plan`` and ``simulate`` read what the product exports."""

from __future__ import annotations

import argparse
import json
import sys
from dataclasses import asdict
from pathlib import Path

from reedcore.acoustics import Analysis, Task, analyse
from reedcore.errors import Refusal
from reedcore.formats.analysis_json import analysis_values
from reedcore.formats.wav import read_wav, write_wav
from reedcore.pitch import Note
from reedcore.synthvoice import VOWELS, Clip, HeldVoice, Room, Voiced, speak

from . import practice
from .table import table
from .wording import line

#: Exit codes: everything was measured, or at least one file could not be read.
DONE, NOT_READ = 0, 2


def main(arguments: list[str] | None = None) -> int:
    """Runs one command; gives its exit code."""
    options = _parser().parse_args(arguments)
    try:
        code: int = options.run(options)
    except Refusal as refusal:
        print(line(refusal), file=sys.stderr)
        return NOT_READ
    except OSError as error:
        print(f"{error.filename}: {error.strerror}", file=sys.stderr)
        return NOT_READ
    return code


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="python -m reedcore", description=__doc__)
    commands = parser.add_subparsers(required=True, metavar="command")

    measure = commands.add_parser("analyse", help="measure WAV files")
    measure.add_argument("files", nargs="+", metavar="FILE")
    measure.add_argument("--task", type=Task, choices=list(Task), help="what they are of")
    measure.add_argument("--target", type=_note, metavar="NOTE", help="the note asked for: F4")
    measure.add_argument(
        "--reference-tone", nargs=2, type=float, metavar=("START", "END"),
        help="when the reference tone sounded, in seconds: never measured",
    )  # fmt: skip
    measure.add_argument(
        "--processed", action="store_true",
        help="the device had changed the sound (echo, noise or gain): its level is not judged",
    )  # fmt: skip
    measure.add_argument("--min-hold", type=float, default=1.0, metavar="SECONDS")
    measure.add_argument("--json", action="store_true", help="one JSON object a file, one a line")
    measure.set_defaults(run=_analyse)

    write = commands.add_parser("speak", help="write a synthetic clip, and its truth beside it")
    write.add_argument("file", metavar="FILE.wav")
    write.add_argument("--note", type=_note, default=Note.named("F3"))
    write.add_argument("--seconds", type=float, default=5.0)
    write.add_argument("--vowel", choices=sorted(VOWELS), default="oh")
    write.add_argument("--rate", type=int, default=48_000, metavar="HZ")
    write.add_argument("--room", type=float, default=-66.0, metavar="DBFS")
    write.add_argument("--seed", type=int, default=1)
    for name, value in Voiced.__dataclass_fields__.items():
        if value.type == "float" and name != "seconds":
            write.add_argument(f"--{name.replace('_', '-')}", type=float, default=None)
    write.add_argument(
        "--break", dest="breaks", nargs=2, type=float, action="append", default=[],
        metavar=("AT", "LENGTH"),
    )  # fmt: skip
    write.set_defaults(run=_speak)
    practice.add_to(commands)
    return parser


def _note(text: str) -> Note:
    try:
        return Note.named(text)
    except Refusal as refusal:
        raise argparse.ArgumentTypeError(line(refusal)) from refusal


def _analyse(options: argparse.Namespace) -> int:
    code = DONE
    for file in options.files:
        try:
            analysis = _measured(file, options)
        except Refusal as refusal:
            print(f"{file}: {line(refusal)}", file=sys.stderr)
            code = NOT_READ
        except OSError as error:
            print(f"{file}: {error.strerror}", file=sys.stderr)
            code = NOT_READ
        else:
            if options.json:
                print(json.dumps(analysis_values(analysis, file=file), allow_nan=False))
            else:
                print(table(analysis, file=file))
    return code


def _measured(file: str, options: argparse.Namespace) -> Analysis:
    recording = read_wav(Path(file).read_bytes())
    tone = tuple(options.reference_tone) if options.reference_tone else None
    return analyse(
        recording.samples,
        recording.rate_hz,
        task=options.task,
        target_hz=options.target.hz() if options.target else None,
        min_hold_s=options.min_hold,
        reference_tone=tone,
        processed=options.processed,
    )


def _speak(options: argparse.Namespace) -> int:
    named = {name: getattr(options, name, None) for name in Voiced.__dataclass_fields__}
    changes = {name: value for name, value in named.items() if value is not None}
    changes["pitch_hz"] = options.note.hz()
    changes["breaks"] = tuple(map(tuple, options.breaks))
    held = HeldVoice(Voiced(**changes), room=Room(options.room), seed=options.seed)
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
