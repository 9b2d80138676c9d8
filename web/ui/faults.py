"""Internal errors: a short id that the page shows and the log contains, with the
traceback.

And what a database that is away means: not a fault of ours, but a courteous "come back".
"""

from __future__ import annotations

import logging
import secrets
import sys

from django.db import InterfaceError, OperationalError
from django.http import HttpRequest
from psycopg_pool import PoolTimeout

#: Letters that are not confused on the telephone.
_ALPHABET = "abcdefghjkmnpqrstuvwxyz23456789"
#: Retry-After while the database is away, seconds.
RETRY_AFTER_S = 5
_AWAY = (OperationalError, InterfaceError, PoolTimeout)


def new_fault() -> str:
    """Return a short id for one fault."""
    return "".join(secrets.choice(_ALPHABET) for _ in range(6))


def fault_of(request: HttpRequest) -> str:
    """Return the id of the fault that this request ran into; the same in its page and its log
    lines."""
    if request is None:
        return ""
    return str(request.__dict__.setdefault("fault", new_fault()))


def database_is_away() -> bool:
    """Return whether the current exception is a database that does not answer."""
    error = sys.exc_info()[1]
    while error is not None:
        if isinstance(error, _AWAY):
            return True
        error = error.__cause__ or error.__context__
    return False


class FaultFilter(logging.Filter):
    """Puts the fault's id on each line that a failing request leaves in the log."""

    def filter(self, record: logging.LogRecord) -> bool:
        """Add the fault of the request to an error's log record."""
        request = getattr(record, "request", None)
        if request is not None and record.exc_info:
            record.fault = fault_of(request)
        return True
