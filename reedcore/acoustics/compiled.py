"""Loops compiled by numba or ahead of time if possible; otherwise they run as Python.

Three ways, tried in this order; all give the same figures, and the first two the same to the bit:

1. from the library that ``python -m reedcore compile`` made on this machine: loading it takes
   milliseconds, and a process needs no compiler;
2. by numba, at the first call, kept beside the source or in the user's own cache;
3. as Python, many times slower.
"""

from __future__ import annotations

import json
import platform
import re
import warnings
from collections.abc import Callable
from functools import lru_cache
from hashlib import sha256
from importlib import import_module
from pathlib import Path
from types import FunctionType
from typing import Any

#: Types that a loop may take from its module.
_PLAIN = (bool, int, float, str)
SLOWLY = "numba is not to be had, so measuring runs many times slower than it could"
#: The precompiled library, and what it was made from: processor, code, types.
LIBRARY = "_loops"
LIBRARY_FOLDER = Path(__file__).parent
DESCRIPTION = LIBRARY_FOLDER / f"{LIBRARY}.json"


def processor() -> str:
    """Return a digest of the machine instructions that this processor knows.

    Code compiled for one processor may stop a process on another that lacks an instruction."""
    try:
        found = re.search(r"^(flags|Features)\s*:.*$", Path("/proc/cpuinfo").read_text(), re.M)
    except OSError:
        found = None
    known = " ".join(sorted(found[0].split())) if found else platform.processor()
    return sha256(f"{platform.machine()} {known}".encode()).hexdigest()[:16]


@lru_cache(maxsize=1)
def library() -> dict[str, tuple[str, Callable[..., Any]]]:
    """Return the loops compiled ahead for this processor, each with the digest of its code."""
    try:
        description = json.loads(DESCRIPTION.read_text())
        if description["processor"] != processor():
            return {}
        found = import_module(f"{__package__}.{LIBRARY}")
    except (OSError, ValueError, KeyError, ImportError):
        return {}
    return {name: (digest, getattr(found, name)) for name, digest in description["loops"].items()}


@lru_cache(maxsize=1)
def _compiler() -> Callable[..., Any] | None:
    """Return numba's decorator, or None if numba is missing.

    Looked for at the first loop that runs, because most processes measure nothing."""
    try:
        from numba import njit
    except ImportError:
        warnings.warn(SLOWLY, RuntimeWarning, stacklevel=2)
        return None
    return njit


def _prepare_loop(loop: Callable[..., Any], *, in_order: bool) -> Callable[..., Any]:
    njit = _compiler()
    if njit is None:
        return loop
    # NaN stays NaN: only the order of sums and fused products may change.
    quick = {"contract"} if in_order else {"reassoc", "contract"}
    options = {"nogil": True, "error_model": "numpy", "fastmath": quick}
    made: Callable[..., Any]
    try:
        made = njit(cache=True, **options)(loop)
    except RuntimeError:  # No folder for the cache.
        made = njit(**options)(loop)
    return made


class Loop:
    """A loop over plain numbers and arrays, compiled when it is first run.

    Its arguments have the same types at every call: the library checks none of them.

    Args:
        loop: the loop as it stands.
        uses: the loops that it calls by name, which are compiled before it.
        in_order: whether its sums are added up one by one, because they may be interrupted anywhere
            and continued; otherwise several at once.
    """

    def __init__(self, loop: Callable[..., Any], *uses: Loop, in_order: bool = False) -> None:
        self.plain = loop
        self._uses = uses
        self._in_order = in_order
        self._made: Callable[..., Any] | None = None
        self._by_numba: Callable[..., Any] | None = None

    def __call__(self, *given: Any) -> Any:
        return (self._made or self.made())(*given)

    def made(self) -> Callable[..., Any]:
        """Return the compiled loop, or the Python loop if it cannot be compiled."""
        if self._made is None:
            digest, ahead = library().get(self.plain.__name__, ("", None))
            self._made = ahead if ahead and digest == self.digest() else self.compiled()
        return self._made

    def compiled(self) -> Callable[..., Any]:
        """Return the loop as numba compiles it."""
        if self._by_numba is not None:
            return self._by_numba
        inner = {each.plain.__name__: each.compiled() for each in self._uses}
        known = {**self.plain.__globals__, **inner}
        whole = FunctionType(self.plain.__code__, known, self.plain.__name__)
        # numba finds its cache entry by this name, and only notices changes in this one file.
        whole.__qualname__ = f"{self.plain.__name__}_{self.digest()}"
        self._by_numba = _prepare_loop(whole, in_order=self._in_order)
        return self._by_numba

    def digest(self) -> str:
        """Return a digest of all that the loop is made from: its code, that of the loops that it
        calls, and the numbers it takes from its module."""
        code, known = self.plain.__code__, self.plain.__globals__
        numbers = {
            name: known[name] for name in code.co_names if isinstance(known.get(name), _PLAIN)
        }
        within = [each.digest() for each in self._uses]
        signature = repr(
            (self._in_order, code.co_code, code.co_consts, sorted(numbers.items()), within)
        )
        return sha256(signature.encode()).hexdigest()[:16]
