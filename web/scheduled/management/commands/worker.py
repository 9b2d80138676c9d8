"""Works off the queue: stops separately, all other jobs next to them, through database restarts and
after other workers were killed. Any number can run, on any machine."""

from __future__ import annotations

import asyncio
import logging
import signal
from typing import Any

import psycopg
from django.core.management.base import BaseCommand
from django.db import connections
from procrastinate import exceptions
from procrastinate.contrib.django import app

from web.screening.jobs import STOPS

logger = logging.getLogger(__name__)

#: Concurrent jobs: stops, and all others.
STOPS_AT_ONCE, OTHERS_AT_ONCE = 3, 4
#: Heartbeat interval of a worker, and when it counts as dead, seconds.
LIVES_EVERY_S, DEAD_AFTER_S = 5.0, 20.0
#: Retry delay while the database is away: first and maximum, seconds.
AGAIN_S = (1.0, 10.0)
#: Time for running jobs to finish after a stop signal, seconds.
LEAVES_IN_S = 15.0
_AWAY = (psycopg.Error, exceptions.ConnectorException, OSError)


class Command(BaseCommand):
    help = "Runs the job queue until SIGTERM or SIGINT."

    def handle(self, *args: Any, **options: Any) -> None:
        """Run the scheduled work until the process is stopped."""
        asyncio.run(work())


async def work() -> None:
    """Work until the process is told to stop."""
    leaving = asyncio.Event()
    loop = asyncio.get_running_loop()
    for each in (signal.SIGTERM, signal.SIGINT):
        loop.add_signal_handler(each, leaving.set)
    wait = AGAIN_S[0]
    while not leaving.is_set():
        try:
            await _work_while_connected(leaving)
            wait = AGAIN_S[0]
        except* _AWAY:
            # Do not close connections here: this is the event loop's thread, which Django forbids,
            # and each job closes its own.
            logger.warning("queue_database_unavailable", extra={"retry_in_s": round(wait)})
            try:
                await asyncio.wait_for(leaving.wait(), wait)
            except TimeoutError:
                wait = min(2 * wait, AGAIN_S[1])


async def _work_while_connected(leaving: asyncio.Event) -> None:
    with app.replace_connector(
        app.connector.get_worker_connector()  # type: ignore[attr-defined]  # its stubs lack it
    ) as working:
        async with working.open_async(), asyncio.TaskGroup() as tasks:
            workers = [
                tasks.create_task(_worker(working, [STOPS], STOPS_AT_ONCE)),
                tasks.create_task(_worker(working, None, OTHERS_AT_ONCE)),
                tasks.create_task(_restart_jobs(working)),
            ]
            going = tasks.create_task(leaving.wait())
            await asyncio.wait([*workers, going], return_when=asyncio.FIRST_COMPLETED)
            for each in (*workers, going):
                each.cancel()


async def _worker(working: Any, queues: Any, at_once: Any) -> None:
    await working.run_worker_async(
        queues=queues,
        concurrency=at_once,
        install_signal_handlers=False,
        fetch_job_polling_interval=2.0,
        update_heartbeat_interval=LIVES_EVERY_S,
        stalled_worker_timeout=DEAD_AFTER_S,
        shutdown_graceful_timeout=LEAVES_IN_S,
        delete_jobs="successful",
        task_middleware=[on_a_fresh_connection],
    )


def on_a_fresh_connection(call_next: Any, context: Any, worker: Any) -> Any:
    """Check each job's connection first and give it back afterwards: one that a
    restart of the database has torn is never kept."""
    connections.close_all()
    try:
        return call_next()
    finally:
        connections.close_all()


async def _restart_jobs(working: Any) -> None:
    """Restart jobs of a dead worker: every job may safely run twice."""
    while True:
        for job in await working.job_manager.get_stalled_jobs(seconds_since_heartbeat=DEAD_AFTER_S):
            logger.warning("job_recovered", extra={"job_id": job.id, "task": job.task_name})
            await working.job_manager.retry_job(job)
        await asyncio.sleep(LIVES_EVERY_S)
