"""The command line: ``python -m reedcore COMMAND``."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Sequence
from importlib import import_module

from reedcore.errors import Refusal

from .wording import line

#: Exit codes: everything was measured, or at least one file could not be read.
DONE, NOT_READ = 0, 2

#: Each command: the module that defines it, and its line in the help. The module is imported only
#: when its command runs, because the measuring and the decisions take most of a second to import.
COMMANDS = {
    "analyse": ("analyse", "measure WAV files"),
    "speak": ("speak", "write a synthetic clip, and its truth beside it"),
    "check": ("practice", "what the programme check says of a programme"),
    "decide": ("practice", "what is proposed, and what was reached"),
    "judge": ("practice", "measure a recording of an item and judge it"),
    "plan": ("practice", "how long a programme takes, item by item"),
    "edit": ("practice", "a programme after edits, one after another"),
    "simulate": ("practice", "run a history forward: what the rules would do"),
    "start": ("start", "a starting programme, fitted to a client's record"),
    "texts": ("texts", "the texts of the core, for translation"),
    "schema": ("practice", "the JSON Schema of a file or of an answer"),
    "compile": ("compile", "make a library of the measuring's loops, for this machine"),
}


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command and return its exit code."""
    given = list(sys.argv[1:] if arguments is None else arguments)
    options = _parser(given).parse_args(given)
    try:
        code: int = options.run(options)
    except Refusal as refusal:
        print(line(refusal), file=sys.stderr)
        return NOT_READ
    except OSError as error:
        print(f"{error.filename}: {error.strerror}", file=sys.stderr)
        return NOT_READ
    return code


def _parser(given: Sequence[str]) -> argparse.ArgumentParser:
    """Return a parser that lists every command and knows the arguments of the one that is given."""
    parser = argparse.ArgumentParser(prog="python -m reedcore", description=__doc__)
    subparsers = parser.add_subparsers(required=True, metavar="command")
    for name, (module, summary) in COMMANDS.items():
        command = subparsers.add_parser(name, help=summary)
        if given[:1] == [name]:
            import_module(f".{module}", __package__).add_arguments(name, command)
    return parser
