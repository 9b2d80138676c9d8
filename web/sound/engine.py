"""Measures every live take of this process in one thread, round by round.

Each round takes what has come of each take since the last one, as one piece. So the work is handed
over once a round and not once a message, and where there is more of it than the processor can do at
once the pieces grow and each second costs less: lag rises a little instead of without end.
"""

import threading
import time
from collections.abc import Callable

from django.conf import settings

#: Behind by more, and another take would make it worse for those that are running.
TOO_FAR_BEHIND_S = 1.0


class Line:
    """A take's place in the engine: what has come, and what to do with it.

    Args:
        work: given the chunks of a round, measures them; called in the engine's thread.
    """

    def __init__(self, work: Callable[[list[bytes]], None]) -> None:
        self.work = work
        self.chunks: list[bytes] = []
        self.since = 0.0
        self.busy = False

    @property
    def idle(self) -> bool:
        """Whether all that has come is measured."""
        return not self.chunks and not self.busy


class Engine:
    """The thread, and the lines that are waiting for it."""

    def __init__(self) -> None:
        self._wakes = threading.Condition()
        self._waiting: dict[Line, None] = {}
        self._lines: set[Line] = set()
        self._thread: threading.Thread | None = None
        self._behind_s = 0.0

    def admit(self, work: Callable[[list[bytes]], None]) -> Line | None:
        """A place for one more take; None where this process has enough to do."""
        with self._wakes:
            full = len(self._lines) >= settings.LIVE_TAKES or self._behind_s > TOO_FAR_BEHIND_S
            if full and self._lines:
                return None
            line = Line(work)
            self._lines.add(line)
            if self._thread is None:
                self._thread = threading.Thread(target=self._run, name="live takes", daemon=True)
                self._thread.start()
        return line

    def leave(self, line: Line) -> None:
        """This take is over."""
        with self._wakes:
            self._lines.discard(line)
            self._waiting.pop(line, None)
            if not self._lines:
                self._behind_s = 0.0

    def add(self, line: Line, chunk: bytes) -> None:
        """One more chunk of a take; measured in the next round."""
        with self._wakes:
            if not line.chunks:
                line.since = time.monotonic()
            line.chunks.append(chunk)
            self._waiting[line] = None
            self._wakes.notify()

    @property
    def takes(self) -> int:
        """How many are running."""
        return len(self._lines)

    @property
    def behind_s(self) -> float:
        """How long the oldest chunk of the last round had waited."""
        return self._behind_s

    def _run(self) -> None:
        while True:
            with self._wakes:
                while not self._waiting:
                    self._wakes.wait()
                line = next(iter(self._waiting))
                del self._waiting[line]
                line.busy = True
                chunks, line.chunks = line.chunks, []
                self._behind_s = 0.8 * self._behind_s + 0.2 * (time.monotonic() - line.since)
            try:
                line.work(chunks)
            finally:
                line.busy = False


ENGINE = Engine()
