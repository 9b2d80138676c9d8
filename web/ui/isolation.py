"""Processes rows so that one failure does not affect the others."""

import logging
from collections.abc import Callable, Iterable
from typing import Any

from django.db import InterfaceError, OperationalError, transaction

logger = logging.getLogger(__name__)


def process_each(
    rows: Iterable[Any], do: Callable[[Any], object], *, what: str
) -> dict[Any, object]:
    """Process each row in a transaction of its own; log a failed one with its
    traceback and continue.

    Returns:
        What came of each that did not fail, by its row's key.

    Raises:
        OperationalError, InterfaceError: the database itself is away; the job is done again then.
    """
    done = {}
    for row in rows:
        try:
            with transaction.atomic():
                done[row.pk] = do(row)
        except (OperationalError, InterfaceError):
            raise
        except Exception:  # Any error: the other rows must still be processed.
            logger.exception(
                "row_skipped",
                extra={"task": what, "model": type(row).__name__, "row_id": row.pk},
            )
    return done
