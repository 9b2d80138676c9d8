"""Loops that are compiled, where a compiler for them is at hand; else they run as they stand.

numba comes from the registry as a wheel and needs no compiler of the machine's own. What it made is
kept beside the source, or in the user's own cache, so that a process waits for it once; without it
the same loops run many times slower and give the same figures.
"""

from __future__ import annotations

import warnings
from collections.abc import Callable
from functools import lru_cache
from types import FunctionType
from typing import Any

SLOWLY = "numba is not to be had, so measuring runs many times slower than it could"


@lru_cache(maxsize=1)
def _compiler() -> Callable[..., Any] | None:
    """What compiles a loop; None where there is nothing. Looked for at the first loop that runs,
    for most processes measure nothing."""
    try:
        from numba import njit
    except ImportError:
        warnings.warn(SLOWLY, RuntimeWarning, stacklevel=2)
        return None
    return njit


def _made(loop: Callable[..., Any]) -> Callable[..., Any]:
    njit = _compiler()
    if njit is None:
        return loop
    # sums may be added up several at once; what is not a number stays none
    asked = {"nogil": True, "error_model": "numpy", "fastmath": {"reassoc", "contract"}}
    made: Callable[..., Any]
    try:
        made = njit(cache=True, **asked)(loop)
    except RuntimeError:  # there is no folder to keep it in
        made = njit(**asked)(loop)
    return made


class Loop:
    """A loop over plain numbers and arrays, compiled when it is first run.

    Args:
        loop: the loop as it stands.
        uses: the loops that it calls by name, which are compiled before it.
    """

    def __init__(self, loop: Callable[..., Any], *uses: Loop) -> None:
        self.plain = loop
        self._uses = uses
        self._made: Callable[..., Any] | None = None

    def __call__(self, *given: Any) -> Any:
        return (self._made or self.made())(*given)

    def made(self) -> Callable[..., Any]:
        """Compiled, where that can be."""
        if self._made is None:
            inner = {each.plain.__name__: each.made() for each in self._uses}
            known = {**self.plain.__globals__, **inner}
            whole = FunctionType(self.plain.__code__, known, self.plain.__name__)
            self._made = _made(whole)
        return self._made
