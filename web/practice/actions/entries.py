"""Entries of a session come in, from a device or from the clinician's screen, each exactly once."""

from dataclasses import dataclass
from uuid import UUID

from django.db import transaction
from django.http import Http404

from reedcore.formats.wav import Recording
from reedcore.safety import Flag
from web.accounts.models import User
from web.clients.actions import record_stop
from web.clients.models import Client, Stop
from web.programmes.models import PrescribedTask
from web.sound import capture

from ..entry import BadEntry, Clock
from ..models import Mark, ReferenceVowel, Session, Trial
from .takes import record_by_hand, record_reference, record_sound, record_told


@dataclass(frozen=True)
class Arrived:
    """What an entry became; one of them, or none where it only changed the session."""

    session: Session
    trial: Trial | None = None
    vowel: ReferenceVowel | None = None
    stop: Stop | None = None


def take_in(
    client: Client, entry: dict, *, clock: Clock, by: User, wav: Recording | None = None
) -> Arrived:
    """Keeps one entry, or finds that it was kept before.

    Args:
        entry: checked.
        by: who sends it: the client, or the clinician who leads the session.
        wav: the sound that belongs to it.

    Raises:
        BadEntry: a time, a version or a task that is not this client's.
        reedcore.errors.Refusal, KeyTaken, ValueError: as the recording of tries says.
    """
    session = open_session(client, entry["session"], clock=clock, by=by)
    at = clock.true(entry["at"])
    kind = entry["kind"]
    if kind == "stop":
        return Arrived(session, stop=_stop(client, entry, session, at))
    if kind == "ended":
        _end(session, entry, at)
    elif kind == "mark":
        _mark(client, entry, session, at)
    elif kind == "reference":
        if wav is None:
            raise BadEntry("a reference without its sound")
        vowel = record_reference(
            session,
            key=UUID(entry["key"]),
            samples=wav.samples,
            rate_hz=wav.rate_hz,
            capture=capture.told(entry.get("capture") or {}),
            at=at,
        )
        return Arrived(session, vowel=vowel)
    elif kind in ("sound", "timed", "told"):
        return Arrived(session, trial=_trial(client, entry, session, at, wav))
    return Arrived(session)


def open_session(client: Client, said: dict, *, clock: Clock, by: User) -> Session:
    """The session an entry belongs to: made by whichever of its entries comes first.

    Raises:
        BadEntry: it belongs to a version that this client does not have, or its key to another.
    """
    programme = client.programmes.filter(version=said["version"]).first()
    if programme is None:
        raise BadEntry("no such version")
    session, _ = Session.objects.get_or_create(
        key=UUID(said["key"]),
        defaults={
            "client": client,
            "programme": programme,
            "sort": said["sort"],
            "day": said["day"],
            "voice": said.get("voice", ""),
            "place": Session.Place.CLINIC if by.is_clinician else Session.Place.HOME,
            "begun_at": clock.true(said["begun_at"]),
            "items_planned": said.get("planned", 0),
            "hours_since_medication": said.get("hours_since_medication"),
            "device": said.get("device", ""),
            "clock_off_s": clock.noted_s,
            "led_by": by if by.is_clinician else None,
        },
    )
    if session.client_id != client.pk:
        raise BadEntry("the session is another client's")
    return session


def _trial(client, entry, session, at, wav):
    task = _task(client, entry["task"])
    given = {
        "key": UUID(entry["key"]),
        "at": at,
        "session": session,
        "role": entry.get("role", ""),
    }
    if entry["kind"] == "told":
        return record_told(task, figures=entry["figures"], **given)
    given["set_s"] = entry.get("set_s")
    if entry["kind"] == "timed":
        return record_by_hand(task, seconds=entry["seconds"], **given)
    if wav is None:
        raise BadEntry("a try without its sound")
    return record_sound(
        task,
        source=entry["source"],
        samples=wav.samples,
        rate_hz=wav.rate_hz,
        capture=capture.told(entry.get("capture") or {}),
        **given,
    )


def _task(client, pk) -> PrescribedTask:
    tasks = PrescribedTask.objects.select_related("programme__client__clinic")
    task = tasks.filter(pk=pk, programme__client=client).first()
    if task is None:
        raise BadEntry("no such task")
    return task


def _mark(client, entry, session, at):
    task = _task(client, entry["task"]) if entry.get("task") else None
    mark, _ = Mark.objects.get_or_create(
        key=UUID(entry["key"]),
        defaults={
            "client": client,
            "session": session,
            "task": task,
            "kind": entry["mark"],
            "value": entry["value"],
            "said_at": at,
        },
    )
    if mark.client_id != client.pk:
        raise BadEntry("the key is another client's")


def _stop(client, entry, session, at):
    return record_stop(
        client,
        key=UUID(entry["key"]),
        flags=[Flag(code) for code in entry["flags"]],
        said_at=at,
        clinicians=[session.programme.published_by],
        session_key=session.pk,
        comment=entry.get("comment", ""),
    )


@transaction.atomic
def _end(session, entry, at):
    """A session ends once; what comes again changes nothing."""
    locked = Session.objects.select_for_update().get(pk=session.pk)
    if locked.ended_at is None:
        locked.ended_at, locked.ending = at, entry["ending"]
        locked.items_done = entry.get("done", 0)
        locked.save(update_fields=["ended_at", "ending", "items_done"])


def client_of(user: User, pk: int | None = None) -> Client:
    """Whose entries this person may send: their own, or a client's whom they lead."""
    clients = user.visible_clients().select_related("clinic")
    found = clients.filter(pk=pk).first() if pk else clients.first() if user.is_client else None
    if found is None:
        raise Http404
    return found
