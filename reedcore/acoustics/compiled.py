"""Loops that are compiled, where a compiler for them is at hand; else they run as they stand.

numba comes from the registry as a wheel and needs no compiler of the machine's own. What it made is
kept beside the source, or in the user's own cache, so that a process waits for it once; without it
the same loops run many times slower and give the same figures.
"""

from __future__ import annotations

import warnings
from collections.abc import Callable
from functools import lru_cache
from hashlib import sha256
from types import FunctionType
from typing import Any

#: What a loop may take from its module.
_PLAIN = (bool, int, float, str)
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


def _made(loop: Callable[..., Any], *, in_order: bool) -> Callable[..., Any]:
    njit = _compiler()
    if njit is None:
        return loop
    # what is not a number stays none
    quick = {"contract"} if in_order else {"reassoc", "contract"}
    asked = {"nogil": True, "error_model": "numpy", "fastmath": quick}
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
        in_order: its sums are added up one by one, for they may be left off and gone on with
            anywhere; else several at once.
    """

    def __init__(self, loop: Callable[..., Any], *uses: Loop, in_order: bool = False) -> None:
        self.plain = loop
        self._uses = uses
        self._in_order = in_order
        self._made: Callable[..., Any] | None = None

    def __call__(self, *given: Any) -> Any:
        return (self._made or self.made())(*given)

    def made(self) -> Callable[..., Any]:
        """Compiled, where that can be."""
        if self._made is None:
            inner = {each.plain.__name__: each.made() for each in self._uses}
            known = {**self.plain.__globals__, **inner}
            whole = FunctionType(self.plain.__code__, known, self.plain.__name__)
            # what is kept is found by this name, and looks out for changes in its own file alone
            whole.__qualname__ = f"{self.plain.__name__}_{self.digest()}"
            self._made = _made(whole, in_order=self._in_order)
        return self._made

    def digest(self) -> str:
        """Tells what the loop does from what it did: its code, that of the loops that it calls, and
        the numbers it takes from its module."""
        code, known = self.plain.__code__, self.plain.__globals__
        numbers = {
            name: known[name] for name in code.co_names if isinstance(known.get(name), _PLAIN)
        }
        within = [each.digest() for each in self._uses]
        told = repr((self._in_order, code.co_code, code.co_consts, sorted(numbers.items()), within))
        return sha256(told.encode()).hexdigest()[:16]
