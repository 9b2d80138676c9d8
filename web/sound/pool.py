"""Worker processes that measure recordings, with a queue short enough to be worked
off soon. A request that waits here holds no connection to the database.
"""

from __future__ import annotations

import logging
import multiprocessing
import os
import threading
from collections.abc import Callable
from concurrent.futures import Future, ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from multiprocessing.connection import wait
from threading import Thread
from typing import TYPE_CHECKING, Any

from django.conf import settings
from django.db import connection

from reedcore.acoustics import ready

if TYPE_CHECKING:
    from reedcore.acoustics.analysis import Analysis
    from reedcore.measures.trial import Measurement
    from reedcore.measures.vowel import VowelLevel

logger = logging.getLogger(__name__)

#: Lower priority than pages that people wait for.
NICENESS = 10
#: Retry-After when the queue is full, seconds.
RETRY_AFTER_S = 4


class PoolBusy(Exception):
    """Too many recordings wait already; this one is worth sending again."""


class Pool:
    """Processes that measure: started by :meth:`make_ready` or the first recording, and restarted
    when one of them dies."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._processes: ProcessPoolExecutor | None = None
        self._waiting = 0

    def run(self, work: Callable[..., Any], *given: Any) -> Any:
        """Return the result of ``work``, computed in another process.

        Args:
            work: a function of a module that needs no Django.

        Raises:
            PoolBusy: too many are waiting.
            Any error that ``work`` raises.
        """
        if settings.ANALYSIS_PROCESSES == 0:
            return work(*given)
        with self._lock:
            if self._waiting >= settings.ANALYSES_WAITING:
                raise PoolBusy
            self._waiting += 1
        try:
            _release_connection()
            return self._run_in_process(work, given)
        finally:
            with self._lock:
                self._waiting -= 1

    def make_ready(self) -> None:
        """Begin them, so that the first recording need not wait; does not wait for them itself."""
        if settings.ANALYSIS_PROCESSES:
            self._submit(os.getpid, ())

    def _run_in_process(
        self, work: Callable[..., Any], given: tuple[Any, ...]
    ) -> Analysis | Measurement | VowelLevel | None:
        for last in (False, True):
            try:
                return self._submit(work, given).result()
            except BrokenProcessPool:
                # The process was killed; do not blame the recording unless it happens again.
                logger.warning("measuring_process_died")
                with self._lock:
                    self._processes = None
                if last:
                    raise PoolBusy from None
        raise AssertionError("unreachable")

    def _submit(self, work: Callable[..., Any], given: tuple[Any, ...]) -> Future:
        with self._lock:
            if self._processes is None:
                self._processes = ProcessPoolExecutor(
                    settings.ANALYSIS_PROCESSES,
                    mp_context=multiprocessing.get_context("spawn"),
                    initializer=_begin,
                )
            return self._processes.submit(work, *given)


def _begin() -> None:
    """Prepare a process that measures."""
    Thread(target=_end_with_the_site, name="end with the site", daemon=True).start()
    os.nice(NICENESS)
    ready()


def _end_with_the_site() -> None:
    """End this process when the one that started it has ended, killed or not.

    A pool ends its processes only when its own process ends in good order."""
    site = multiprocessing.parent_process()
    if site is not None:
        wait([site.sentinel])
        os._exit(0)


def _release_connection() -> None:
    """Return the connection to the pool while it is idle; the next query takes another."""
    if not connection.in_atomic_block:
        connection.close()


POOL = Pool()
