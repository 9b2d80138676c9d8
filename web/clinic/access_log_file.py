"""The access log as a file."""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from datetime import datetime

from django.utils import timezone

from web.accounts.models import AccessLogEntry


@dataclass(frozen=True)
class AccessLogRow:
    """A line as the file has it; the name is unknown of a record that was erased."""

    at: datetime
    person: str
    record: int
    name: str | None
    what: str
    page: str
    address: str | None


def access_log_rows(
    lines: Iterable[AccessLogEntry], names: Mapping[int, str]
) -> Iterator[AccessLogRow]:
    """Yield each line with the record's name, by its number in ``names``."""
    for line in lines:
        yield AccessLogRow(
            at=timezone.localtime(line.accessed_at),
            person=line.user.username,
            record=line.record,
            name=names.get(line.record),
            what=line.kind,
            page=line.page,
            address=line.address,
        )
