"""Measures every live take of this process in one thread, round by round.

Each round takes what has come of each take since the last one, as one piece, and looks at all of
them together. So the work is handed over once a round and not once a message, and where there is
more of it than the processor can do at once the pieces grow and each second costs less: lag rises a
little instead of without end.
"""

import logging
import threading
import time
from collections.abc import Callable

from django.conf import settings

from web.ui.faults import new_fault

from .takes import ChunkResult, Take, add_all

logger = logging.getLogger(__name__)

#: With a larger delay, reject another take to protect the running ones.
TOO_FAR_BEHIND_S = 1.0
#: With this many takes, wait between rounds: as long as a page buffers sound, then twice as long,
#: so that a round has data of most takes. The display stays within a third of a second.
PACES = ((10, 0.12), (4, 0.06))


def pace_s(takes: int) -> float:
    """Return how long after the last round the next one begins, where there is something to do."""
    return next((seconds for least, seconds in PACES if takes >= least), 0.0)


class TakeQueue:
    """A take's place in the engine: its samples, and the receiver of its results.

    Args:
        take: what the chunks are of.
        heard: told in the engine's thread what a round gave; None where it could not be measured.
    """

    def __init__(self, take: Take, on_result: Callable[[ChunkResult | None], None]) -> None:
        self.take = take
        self.heard = on_result
        self.chunks: list[bytes] = []
        self.since = 0.0
        self.busy = False

    @property
    def idle(self) -> bool:
        """Return whether all that has come is measured."""
        return not self.chunks and not self.busy


class Engine:
    """The thread, and the lines that are waiting for it."""

    def __init__(self) -> None:
        self._wakes = threading.Condition()
        self._waiting: dict[TakeQueue, None] = {}
        self._lines: set[TakeQueue] = set()
        self._thread: threading.Thread | None = None
        self._behind_s = 0.0

    def admit(
        self, take: Take, on_result: Callable[[ChunkResult | None], None]
    ) -> TakeQueue | None:
        """Return a place for one more take; None if this process is at its limit."""
        with self._wakes:
            is_full = len(self._lines) >= settings.LIVE_TAKES or self._behind_s > TOO_FAR_BEHIND_S
            if is_full and self._lines:
                return None
            line = TakeQueue(take, on_result)
            self._lines.add(line)
            if self._thread is None:
                self._thread = threading.Thread(
                    target=self._work_loop, name="live takes", daemon=True
                )
                self._thread.start()
        return line

    def leave(self, line: TakeQueue) -> None:
        """Remove this take."""
        with self._wakes:
            self._lines.discard(line)
            self._waiting.pop(line, None)
            if not self._lines:
                self._behind_s = 0.0

    def add(self, line: TakeQueue, chunk: bytes) -> None:
        """Add a chunk of a take; it is measured in the next round."""
        with self._wakes:
            if not line.chunks:
                line.since = time.monotonic()
            line.chunks.append(chunk)
            self._waiting[line] = None
            self._wakes.notify()

    @property
    def takes(self) -> int:
        """Return how many are running."""
        return len(self._lines)

    @property
    def behind_s(self) -> float:
        """Return how long the oldest chunk of the last round had waited."""
        return self._behind_s

    def _work_loop(self) -> None:
        began = 0.0
        while True:
            with self._wakes:
                while not self._waiting:
                    self._wakes.wait()
            if pace := pace_s(len(self._lines)):
                time.sleep(max(0.0, began + pace - time.monotonic()))
            began = time.monotonic()
            self._round()

    def _round(self) -> None:
        """Measure the new sound of each take, and report it."""
        with self._wakes:
            lines, self._waiting = list(self._waiting), {}
            if not lines:  # Left in the meantime.
                return
            fed = []
            for line in lines:
                line.busy = True
                fed.append((line.take, line.chunks))
                line.chunks = []
            oldest = min(line.since for line in lines)
            self._behind_s = 0.8 * self._behind_s + 0.2 * (time.monotonic() - oldest)
        try:
            results: list[ChunkResult | None] = [*add_all(fed)]
        except Exception:  # An error must not end the thread that measures all takes.
            logger.exception("live_measuring_failed", extra={"fault": new_fault()})
            results = [None] * len(lines)
        for line, added in zip(lines, results, strict=True):
            try:
                line.heard(added)
            except Exception:
                logger.exception("live_result_not_sent", extra={"fault": new_fault()})
            line.busy = False


ENGINE = Engine()
