"""The journal: an append-only file of events that a restore must not undo.

A backup is older than the moment that it is needed in. Links that were closed since, accounts that
were closed, records that were erased and the keys of devices stand here as well, and are carried
out again on the restored records. Each machine writes a file of its own; a line names nobody.
"""

import json
import logging
import os
import socket
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime
from hashlib import sha256
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import transaction
from django.utils import timezone

logger = logging.getLogger(__name__)

LINK_CLOSED, ACCOUNT_CLOSED, ACCOUNT_OPENED = "link_closed", "account_closed", "account_opened"
ERASED, DEVICE_KEY = "erased", "device_key"


@dataclass(frozen=True)
class JournalEntry:
    """An event in the journal.

    Attributes:
        what: one of the words above.
        facts: what it happened to, by numbers and digests.
    """

    at: datetime
    what: str
    facts: dict[str, Any]


def folder() -> Path:
    """Return the folder of this site's journal."""
    return Path(settings.JOURNAL_FOLDER)


def note(what: str, **facts: Any) -> None:
    """Add a line after the transaction has been committed.

    A folder that cannot be written to holds nothing up: it is logged, and readiness says so.
    """
    line = {"at": timezone.now().isoformat(), "what": what, **facts}
    transaction.on_commit(lambda: _add(line))


def _add(line: dict[str, Any]) -> None:
    text = json.dumps(line) + "\n"
    try:
        folder().mkdir(parents=True, exist_ok=True, mode=0o700)
        path = folder() / f"{socket.gethostname()}.jsonl"
        handle = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_APPEND, 0o600)
        try:
            os.write(handle, text.encode())
            os.fsync(handle)
        finally:
            os.close(handle)
    except OSError:
        logger.exception("journal_write_failed", extra={"entry": line["what"]})


def trouble() -> str:
    """Return why no line can be added; empty where one can."""
    path = folder()
    nearest = next(each for each in (path, *path.parents) if each.exists())
    return "" if os.access(nearest, os.W_OK) else f"{nearest} cannot be written to"


def lines(*folders: Path) -> Iterator[JournalEntry]:
    """Give every line of every machine's file in these folders once, the oldest first. A last line
    that was torn off is passed over."""
    texts = {
        text
        for each in folders
        for path in each.glob("*.jsonl")
        for text in path.read_text(errors="replace").splitlines()
    }
    found = []
    for text in texts:
        try:
            entry = json.loads(text)
            found.append(
                JournalEntry(datetime.fromisoformat(entry.pop("at")), entry.pop("what"), entry)
            )
        except (ValueError, KeyError, AttributeError, TypeError):
            logger.warning("journal_line_unreadable")
    yield from sorted(found, key=lambda each: each.at)


def digest(text: str) -> str:
    """Return the journal's form of a code or a name."""
    return sha256(f"journal/{text}".encode()).hexdigest()[:32]
