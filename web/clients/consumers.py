"""A take at a step of the baseline sheet, in the consulting room."""

from django.http import Http404

from web.sound.consumers import LiveTake

from .actions import record_sound
from .queries import baseline_seen_by
from .steps import BY_CODE
from .views.baseline import rendered_sheet


class BaselineTake(LiveTake):
    """One take of one trial; ``subject`` is the sheet and the step."""

    def find(self, user, pk, step):
        step = BY_CODE.get(step)
        if not user.is_clinician or step is None or not step.capture.is_heard:
            return None
        try:
            return baseline_seen_by(user, pk), step
        except Http404:
            return None

    def clinic(self):
        return self.subject[0].client.clinic

    def target_hz(self):
        return None

    def save(self):
        sheet, step = self.subject
        record_sound(
            sheet,
            step,
            key=self.key,
            source=self.source,
            samples=self.take.samples(),
            rate_hz=self.take.rate_hz,
            capture=self.capture,
        )
        return rendered_sheet(sheet, step, move_on=True)
