"""A take at a prescribed task, or of the comfortable voice, from a client's device."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.utils import timezone

from reedcore.measures import KINDS, kind_of
from web.record.prescribed_item import PrescribedRow
from web.record.programmes import note_hz, tasks_of
from web.record.today import reference_dbfs
from web.sound.consumers import InvalidMetadata, LiveTake

from .actions import open_session, record_reference, record_sound
from .answers import try_answer, vowel_answer
from .clock import Clock
from .entry import BadEntry, check_entry, trial_details

if TYPE_CHECKING:
    from web.accounts.models import User


class _PracticeTake(LiveTake):
    """A take that belongs to a session."""

    def session(self) -> Any:
        """Return its session, which this take may be the first to mention."""
        details = self.about.get("session")
        if details is None:
            return None
        at = details.get("begun_at") if isinstance(details, dict) else None
        try:
            # Apply the same check as for an entry.
            check_entry({"key": str(self.key), "at": at, "kind": "begun", "session": details})
            return open_session(
                self.client(),
                details,
                clock=Clock.of(self.about.get("now"), now=timezone.now()),
                by=self.scope["user"],
            )
        except BadEntry as bad:
            raise InvalidMetadata(str(bad)) from bad

    def clinic(self) -> Any:
        """Return the clinic of the recorded client."""
        return self.client().clinic

    def client(self) -> Any:
        """Return the client of the take."""
        raise NotImplementedError


class TakeConsumer(_PracticeTake):
    """A live take of one trial of a task."""

    def find(self, user: User, pk: int) -> Any:
        """Return the subject of the recording, or None if the user may not record it."""
        if not (user.practises or user.leads_sessions):
            return None
        task = tasks_of(user).filter(pk=pk).first()
        return task if task and kind_of(task.measure).is_heard else None

    def client(self) -> Any:
        """Return the recorded client."""
        return self.subject.programme.client

    def target_hz(self) -> Any:
        """Return the target note in hertz, or None without one."""
        return note_hz(self.subject)

    def level_band(self) -> Any:
        """Return the level reference, floor and ceiling, or None if a level cannot be judged."""
        zero = reference_dbfs(self.client(), self.capture)
        if zero is None:
            return None
        prescribed = PrescribedRow(self.subject).prescribed_item
        floor, ceiling = prescribed.floor_db(has_reference=True), prescribed.setting.ceiling
        return None if floor is ceiling is None else (zero, floor, ceiling)

    def listens_for(self) -> Any:
        """Return the kind of sound that the live measuring waits for."""
        # On an air-first rung the kind can differ from the task's measure.
        return KINDS[PrescribedRow(self.subject).prescribed_item.kind].live

    def save(self) -> Any:
        """Store the recording and return the answer for the page."""
        try:
            of_try = trial_details(self.about)
        except BadEntry as bad:
            raise InvalidMetadata(str(bad)) from bad
        trial = record_sound(
            self.subject,
            key=self.key,
            source=self.source,
            samples=self.whole_take().samples(),
            rate_hz=self.whole_take().rate_hz,
            capture=self.capture,
            session=self.session(),
            **of_try,
        )
        return try_answer(trial)


class ReferenceConsumer(_PracticeTake):
    """The comfortable voice, which levels on this device are judged against."""

    def find(self, user: User) -> Any:
        """Return the subject of the recording, or None if the user may not record it."""
        return user.visible_clients().select_related("clinic").first() if user.practises else None

    def client(self) -> Any:
        """Return the recorded client."""
        return self.subject

    def target_hz(self) -> Any:
        """Return the target note in hertz, or None without one."""
        return None

    def save(self) -> Any:
        """Store the recording and return the answer for the page."""
        session = self.session()
        if session is None:
            raise InvalidMetadata("a reference without its session")
        vowel = record_reference(
            session,
            key=self.key,
            samples=self.whole_take().samples(),
            rate_hz=self.whole_take().rate_hz,
            capture=self.capture,
        )
        return vowel_answer(vowel, self.capture)
