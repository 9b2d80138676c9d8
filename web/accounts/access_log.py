"""The access log: records opened, printed, exported or changed, one entry per page.

A view that loads a record calls :func:`note_record`; the middleware writes the entry
after a successful response. The database forbids changing or deleting an entry, except by the job
that deletes expired ones.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from ipaddress import ip_address
from typing import TYPE_CHECKING, Any

from django.core.cache import cache
from django.db import connection, models, transaction
from django.http import HttpRequest
from django.http.response import HttpResponseBase

from .address import address_of
from .models import AccessLogEntry

if TYPE_CHECKING:
    from web.accounts.models import Clinic, User

#: Count repeated views of one page by one person within this time as one access.
ONCE_IN_S = 300
_touched: ContextVar[set[int] | None] = ContextVar("records of this request", default=None)


def note_record(number: int) -> None:
    """Note that the current request loads this record."""
    touched = _touched.get()
    if touched is not None:
        touched.add(number)


class AccessLogMiddleware:
    """Log the records that a clinician's request loaded."""

    def __init__(self, get_response: Callable[..., Any]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        touched: set[int] = set()
        token = _touched.set(touched)
        try:
            response = self.get_response(request)
        finally:
            _touched.reset(token)
        # A form returned with errors shows the record too; a 404 page does not.
        shown = response.status_code < 500 and response.status_code != 404
        user = request.user
        if touched and shown and user.is_authenticated and user.is_clinic_staff:
            _write(request, user, response, touched)
        return response


def _write(request: HttpRequest, user: User, response: HttpResponseBase, touched: set[int]) -> None:
    kind = _kind(request, response)
    page = request.resolver_match.view_name if request.resolver_match else ""
    lines = [
        AccessLogEntry(
            clinic_id=user.clinic_id,
            user=user,
            record=number,
            kind=kind,
            page=page[:60],
            address=_address(request),
        )
        for number in sorted(touched)
        if kind is not AccessLogEntry.Kind.OPENED or _is_new(user.pk, number, page)
    ]
    AccessLogEntry.objects.bulk_create(lines)


def _address(request: HttpRequest) -> str | None:
    """Return the client's address; None if a proxy sends an invalid one."""
    address = address_of(request).partition("%")[0]  # Drop the zone index of a link-local address.
    try:
        return str(ip_address(address))
    except ValueError:
        return None


def _kind(request: HttpRequest, response: HttpResponseBase) -> Any:
    if response.get("Content-Disposition", "").startswith("attachment"):
        return AccessLogEntry.Kind.TAKEN_OUT
    if response.get("Content-Type", "").startswith("application/pdf"):
        return AccessLogEntry.Kind.PRINTED
    # A redirect or data means that the change was saved; a page means that it was not.
    comes_back = response.get("Content-Type", "").startswith("text/html")
    taken = (response.status_code < 300 and not comes_back) or 300 <= response.status_code < 400
    if request.method == "POST" and taken:
        return AccessLogEntry.Kind.CHANGED
    return AccessLogEntry.Kind.OPENED


def _is_new(user: Any, number: int, page: str) -> bool:
    return cache.add(f"opened:{user}:{number}:{page}", True, ONCE_IN_S)


@contextmanager
def deletion_allowed() -> Iterator[None]:
    """Allow the deletion of entries: for the job that deletes expired ones."""
    with transaction.atomic():
        with connection.cursor() as cursor:
            cursor.execute("SET LOCAL still_reed.ends_lines = 'on'")
        yield


def access_log_entries(
    clinic: Clinic, *, by: str = "", record: str = "", kind: str = ""
) -> models.QuerySet:
    """Return the entries, newest first; each of the three filters may be empty."""
    lines = AccessLogEntry.objects.filter(clinic=clinic).select_related("user")
    if by.isdecimal():
        lines = lines.filter(user_id=int(by))
    if record.isdecimal():
        lines = lines.filter(record=int(record))
    if kind in AccessLogEntry.Kind.values:
        lines = lines.filter(kind=kind)
    return lines.order_by("-accessed_at", "-pk")
