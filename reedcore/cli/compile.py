"""``compile`` makes a library of the measuring's loops for this machine.

A process then loads them in milliseconds, without importing numba. The library fits this processor
and this very code: on another processor, or after a change, each loop is compiled when it first
runs. Making it needs a C compiler, setuptools and numba; where one is missing, the loops are
compiled into numba's own cache.
"""

from __future__ import annotations

import argparse
import json
import sys
import tempfile
import warnings
from importlib import import_module
from pathlib import Path
from typing import Any
from unittest.mock import patch

from reedcore.acoustics import compiled, ready
from reedcore.acoustics.compiled import DESCRIPTION, LIBRARY, LIBRARY_FOLDER, Loop
from reedcore.acoustics.track import (
    candidates,
    energy,
    filtering,
    intake,
    periodicity,
    resample,
    tracker,
)
from reedcore.acoustics.voice import perturbation

from .commands import DONE

_MODULES = (
    candidates,
    energy,
    filtering,
    intake,
    periodicity,
    perturbation,
    resample,
    tracker,
)


def add_arguments(name: str, parser: argparse.ArgumentParser) -> None:
    """Add no arguments: ``compile`` has none."""
    parser.set_defaults(run=_compile_all)


def loops() -> dict[str, Loop]:
    """Return every loop that the measuring calls, by the name of its function."""
    found = (each for module in _MODULES for each in vars(module).values())
    return {each.plain.__name__: each for each in found if isinstance(each, Loop)}


def is_current() -> bool:
    """Return whether the library is there, for this processor and this very code."""
    if not compiled.library():
        return False
    made_of = json.loads(DESCRIPTION.read_text()).get("made_of")
    return bool(made_of == {name: loop.digest() for name, loop in loops().items()})


def build(folder: Path) -> dict[str, str]:
    """Compile the loops into ``folder``.

    Returns:
        The digest of each loop in the library, by name. A loop that only other loops call is part
        of those, and not listed.

    Raises:
        ImportError: setuptools or numba is missing.
        OSError, SystemExit: the C compiler is missing or failed.
    """
    aot: Any = import_module("numba.pycc")
    flags: Any = import_module("numba.core.compiler").Flags

    def unlocked_flags() -> Any:
        """Return flags with which other threads run while a loop runs, as with ``nogil``."""
        made = flags()
        made.release_gil = True
        return made

    library = aot.CC(LIBRARY)
    library.output_dir, library.target_cpu = str(folder), "host"
    made: dict[str, str] = {}
    for name, loop in loops().items():
        dispatcher: Any = loop.compiled()
        for signature in getattr(dispatcher, "nopython_signatures", ())[:1]:
            library.export(name, signature)(_calling(dispatcher, len(signature.args)))
            made[name] = loop.digest()
    with patch("numba.pycc.compiler.Flags", unlocked_flags):
        library.compile()
    return made


def _calling(dispatcher: Any, arguments: int) -> Any:
    """Return a function of this many arguments that calls a loop with its own compiler flags."""
    names = ", ".join(f"a{each}" for each in range(arguments))
    space: dict[str, Any] = {"loop": dispatcher}
    exec(f"def call({names}): return loop({names})", space)  # noqa: S102
    return space["call"]


def _compile_all(options: argparse.Namespace) -> int:
    if is_current():
        return DONE
    DESCRIPTION.unlink(missing_ok=True)
    compiled.library.cache_clear()
    ready()  # numba compiles each loop for the argument types that measuring uses.
    with tempfile.TemporaryDirectory(dir=LIBRARY_FOLDER) as folder, warnings.catch_warnings():
        warnings.simplefilter("ignore")
        try:
            made = build(Path(folder))
        except (ImportError, OSError, SystemExit) as problem:
            print(f"Each loop is compiled when it first runs: {problem}", file=sys.stderr)
            return DONE
        for path in Path(folder).glob(f"{LIBRARY}.*"):
            path.replace(LIBRARY_FOLDER / path.name)
        description = Path(folder) / DESCRIPTION.name
        description.write_text(
            json.dumps(
                {
                    "processor": compiled.processor(),
                    "loops": made,
                    # Loops that only other loops call.
                    "made_of": {name: loop.digest() for name, loop in loops().items()},
                },
                indent=1,
            )
        )
        description.replace(DESCRIPTION)
    return DONE
