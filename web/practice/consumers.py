"""A client's take at a prescribed task."""

from web.programmes.queries import note_hz, tasks_of
from web.sound.consumers import LiveTake

from .actions import record_sound
from .views import rendered_stage


class TakeConsumer(LiveTake):
    """One take of one try at a task."""

    def find(self, user, pk):
        return tasks_of(user).filter(pk=pk).first() if user.is_client else None

    def clinic(self):
        return self.subject.programme.client.clinic

    def target_hz(self):
        return note_hz(self.subject)

    def save(self):
        record_sound(
            self.subject,
            key=self.key,
            source=self.source,
            samples=self.take.samples(),
            rate_hz=self.take.rate_hz,
            capture=self.capture,
        )
        return rendered_stage(self.subject)
