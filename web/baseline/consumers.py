"""A take at a step of the baseline sheet, in the consulting room."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.http import Http404

from web.sound.consumers import LiveTake

from .actions import record_sound
from .queries import baseline_seen_by
from .views.sheet import allowed_step, rendered_sheet

if TYPE_CHECKING:
    from web.accounts.models import User


class BaselineTake(LiveTake):
    """A live take of one baseline trial; ``subject`` is the sheet and the step."""

    def find(self, user: User, pk: int, step: Any) -> Any:
        """Return the sheet and step of a recording, or None if the user may not record there."""
        if not user.leads_sessions:
            return None
        try:
            sheet = baseline_seen_by(user, pk)
        except Http404:
            return None
        step = allowed_step(sheet, step)
        return (sheet, step) if step and step.capture.is_heard else None

    def clinic(self) -> Any:
        """Return the clinic of the sheet's client."""
        return self.subject[0].client.clinic

    def target_hz(self) -> Any:
        """Return None: a baseline has no target note."""
        return None

    def save(self) -> Any:
        """Store the recording as a trial of the step."""
        sheet, step = self.subject
        record_sound(
            sheet,
            step,
            key=self.key,
            source=self.source,
            samples=self.whole_take().samples(),
            rate_hz=self.whole_take().rate_hz,
            capture=self.capture,
        )
        return rendered_sheet(sheet, step, should_move_on=True)
