"""``analyse`` measures files."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path

from reedcore.acoustics import Analysis, TakeKind, analyse
from reedcore.errors import Refusal
from reedcore.formats.analysis_json import analysis_values
from reedcore.formats.wav import read_wav

from .commands import DONE, NOT_READ
from .notes import note
from .table import table
from .wording import line


def add_arguments(name: str, parser: argparse.ArgumentParser) -> None:
    """Add the arguments of ``analyse``."""
    parser.add_argument("files", nargs="+", metavar="FILE")
    parser.add_argument("--task", type=TakeKind, choices=list(TakeKind), help="what they are of")
    parser.add_argument("--target", type=note, metavar="NOTE", help="the note asked for: F4")
    parser.add_argument(
        "--reference-tone", nargs=2, type=float, metavar=("START", "END"),
        help="when the reference tone sounded, in seconds: never measured",
    )  # fmt: skip
    parser.add_argument(
        "--processed", action="store_true",
        help="the device had changed the sound (echo, noise or gain): its level is not judged",
    )  # fmt: skip
    parser.add_argument("--min-hold", type=float, default=1.0, metavar="SECONDS")
    parser.add_argument("--json", action="store_true", help="one JSON object a file, one a line")
    parser.set_defaults(run=_analyse)


def _analyse(options: argparse.Namespace) -> int:
    code = DONE
    for file in options.files:
        try:
            analysis = _measure(file, options)
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


def _measure(file: str, options: argparse.Namespace) -> Analysis:
    recording = read_wav(Path(file).read_bytes())
    tone = tuple(options.reference_tone) if options.reference_tone else None
    return analyse(
        recording.samples,
        recording.rate_hz,
        task=options.task,
        target_hz=options.target.hz() if options.target else None,
        min_hold_s=options.min_hold,
        reference_tone=tone,
        is_processed=options.processed,
    )
