"""Entries of a session come in, from a device or from the clinician's screen, each exactly once."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import TYPE_CHECKING, Any
from uuid import UUID

from django.db import transaction
from django.db.models import Q
from django.utils import timezone

from reedcore.formats.wav import Recording
from reedcore.safety import Flag
from web.accounts.models import User
from web.clients.models import Client
from web.record.models import PrescribedTask, ReferenceVowel, SelfReport, Session, Trial
from web.record.programmes import current_programme
from web.screening.actions import add_words, record_stop
from web.screening.models import Stop
from web.sound import capture
from web.ui.request_body import Unreadable, clean_line, read_json

from ..clock import Clock, beginning_of
from ..entry import SCHEMAS, BadEntry
from ..forms import LARGEST_ENTRY
from ..models import RefusedEntry
from .set_aside import apply_report
from .takes import record_by_hand, record_reference, record_sound, record_unmeasured_set

if TYPE_CHECKING:
    from web.intake.clock import Moment


@dataclass(frozen=True)
class ReceivedEntry:
    """The row that an entry became, if any: an entry may only change its session."""

    session: Session | None
    trial: Trial | None = None
    vowel: ReferenceVowel | None = None
    stop: Stop | None = None
    report: SelfReport | None = None


def receive_entry(
    client: Client, entry: dict, *, clock: Clock, by: User, wav: Recording | None = None
) -> ReceivedEntry:
    """Save one entry, or find that it was saved before.

    Args:
        entry: checked.
        by: who sends it: the client, or the clinician who leads the session.
        wav: the sound that belongs to it.

    Raises:
        BadEntry: a time, a version or a task that is not this client's.
        reedcore.errors.Refusal, KeyTaken, ValueError: as the recording of tries says.
    """
    kind = entry["kind"]
    if kind == "stop":
        # Before its session: a report of a problem must not wait.
        return ReceivedEntry(None, stop=take_stop(client, entry, clock=clock))
    session = open_session(client, entry["session"], clock=clock, by=by)
    at = clock.moment(entry["at"], since=beginning_of(session.programme))
    if kind == "begun":
        claim_session(session, at.at)
    if kind == "ended":
        return ReceivedEntry(_end(session, entry, at))
    if kind == "mark":
        return ReceivedEntry(session, report=_mark(client, entry, session, at))
    if kind == "reference":
        if wav is None:
            raise BadEntry("a reference without its sound")
        vowel = record_reference(
            session,
            key=UUID(entry["key"]),
            samples=wav.samples,
            rate_hz=wav.rate_hz,
            capture=capture.capture_details(entry.get("capture") or {}),
            at=at,
        )
        return ReceivedEntry(session, vowel=vowel)
    if kind in ("sound", "timed", "told"):
        return ReceivedEntry(session, trial=_trial(client, entry, session, at, wav))
    return ReceivedEntry(session)


def open_session(client: Client, details: dict, *, clock: Clock, by: User) -> Session:
    """Return the session an entry belongs to: made by whichever of its entries comes first.

    Raises:
        BadEntry: it belongs to a version that this client does not have, or its key to another.
    """
    programme = client.programmes.filter(version=details["version"]).first()
    if programme is None:
        raise BadEntry("no such version")
    begun = clock.moment(details["begun_at"], since=beginning_of(programme))
    session, _ = Session.objects.get_or_create(
        key=UUID(details["key"]),
        defaults={
            "client": client,
            "programme": programme,
            "sort": details["sort"],
            "day": details["day"],
            "voice": details.get("voice", ""),
            "place": Session.Place.CLINIC if by.leads_sessions else Session.Place.HOME,
            "begun_at": begun.at,
            "device_time": begun.device_time,
            "items_planned": details.get("planned", 0),
            "hours_since_medication": details.get("hours_since_medication"),
            "device": details.get("device", ""),
            "clock_off_s": clock.noted_s,
            "led_by": by if by.leads_sessions else None,
            "helper": client.helpers.filter(pk=details.get("helper") or 0).first(),
        },
    )
    if session.client_id != client.pk:
        raise BadEntry("the session is another client's")
    return session


def claim_session(session: Session, at: datetime) -> None:
    """Record that a device began or continued a session at this time."""
    earlier = Q(claimed_at=None) | Q(claimed_at__lt=at)
    Session.objects.filter(earlier, pk=session.pk).update(claimed_at=at)


def _trial(
    client: Client, entry: dict[str, Any], session: Session, at: Moment, wav: Recording | None
) -> Trial | None:
    task = _task(client, entry["task"])
    given = {
        "key": UUID(entry["key"]),
        "at": at,
        "session": session,
        "role": entry.get("role", ""),
    }
    if entry["kind"] == "told":
        return record_unmeasured_set(task, figures=entry["figures"], **given)
    given["set_s"] = entry.get("set_s")
    if entry["kind"] == "timed":
        return record_by_hand(task, seconds=entry["seconds"], **given)
    if wav is None:
        raise BadEntry("a try without its sound")
    return record_sound(
        task,
        number=entry.get("number"),
        beat_s=entry.get("beat_s"),
        source=entry["source"],
        samples=wav.samples,
        rate_hz=wav.rate_hz,
        capture=capture.capture_details(entry.get("capture") or {}),
        **given,
    )


def _task(client: Client, pk: int) -> PrescribedTask:
    tasks = PrescribedTask.objects.select_related("programme__client__clinic")
    task = tasks.filter(pk=pk, programme__client=client).first()
    if task is None:
        raise BadEntry("no such task")
    return task


def _mark(client: Client, entry: dict[str, Any], session: Session, at: Moment) -> SelfReport:
    task = _task(client, entry["task"]) if entry.get("task") else None
    report, _ = SelfReport.objects.get_or_create(
        key=UUID(entry["key"]),
        defaults={
            "client": client,
            "session": session,
            "task": task,
            "kind": entry["mark"],
            "value": entry["value"],
            "said_at": at.at,
            "device_time": at.device_time,
        },
    )
    if report.client_id != client.pk:
        raise BadEntry("the key is another client's")
    if report.kind == SelfReport.Kind.SET_ASIDE:
        apply_report(client, UUID(report.value["trial"]))
    if report.kind == SelfReport.Kind.COMMENT:
        add_words(client, report.value, session_key=session.key, said_at=report.said_at)
    return report


def take_stop(client: Client, entry: dict, *, clock: Clock) -> Stop | None:
    """Store a reported stop even if the rest of the entry is invalid; return None without a stop.

    Args:
        entry: its key, flags that there are, the time, a comment, and what session it was in.
    """
    programme = current_programme(client)
    at = clock.moment(entry.get("at"), since=beginning_of(programme) if programme else clock.now)
    session = entry.get("session") or {}
    return record_stop(
        client,
        key=UUID(entry["key"]),
        flags=[Flag(code) for code in entry["flags"]],
        said_at=at.at,
        device_time=at.device_time,
        clinicians=[programme.published_by] if programme else [],
        session_key=UUID(session["key"]) if session.get("key") else None,
        comment=entry.get("comment", ""),
    )


@transaction.atomic
def _end(session: Session, entry: dict[str, Any], at: Moment) -> Session:
    """End a session once; later ends change nothing."""
    locked = Session.objects.select_for_update().get(pk=session.pk)
    if locked.ended_at is None:
        locked.ended_at, locked.ending = max(at.at, locked.begun_at), entry["ending"]
        locked.end_received_at = timezone.now()
        locked.items_done = entry.get("done", 0)
        locked.save(update_fields=["ended_at", "end_received_at", "ending", "items_done"])
    return locked


#: Keep this many rejected entries; the newest are enough.
MOST_NOT_TAKEN = 100


def note_not_taken(client: Client, text: str, *, reason: str, key: str = "") -> None:
    """Record a rejected entry for support, without its content.

    Args:
        key: what tells it from others where its own key cannot be read.
    """
    try:
        entry = read_json(text, most_bytes=LARGEST_ENTRY, should_clean=True)
    except Unreadable:
        entry = {}
    entry = entry if isinstance(entry, dict) else {}
    session = entry.get("session")
    device = session.get("device", "") if isinstance(session, dict) else ""
    kind = entry.get("kind")
    row = {
        "kind": clean_line(kind)[:12] if isinstance(kind, str) and kind in SCHEMAS else "unknown",
        "reason": clean_line(reason)[:120],
        "device": clean_line(str(device))[:200],
    }
    RefusedEntry.objects.update_or_create(
        client=client, key=clean_line(str(entry.get("key", key)))[:40], defaults=row
    )
    old = client.not_taken.values_list("pk", flat=True)[MOST_NOT_TAKEN:]
    client.not_taken.filter(pk__in=list(old)).delete()
