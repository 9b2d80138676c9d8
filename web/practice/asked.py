"""What a prescribed task asks of one try, as the core judges it."""

from functools import cached_property

from reedcore.pitch import Note
from reedcore.targets.movements import GlideTarget
from web.catalogue.queries import every_task
from web.catalogue.tasks import Task
from web.programmes.models import PrescribedTask
from web.programmes.plan import try_seconds
from web.programmes.queries import item_of
from web.programmes.sounds import line_of

#: Rungs of the join ladder (seconds of gap that are still allowed).
GAPS_S = {"gap under 0.3 s": 0.3, "gap under 0.15 s": 0.15, "no gap": 0.0, "no gap, higher": 0.0}
FIRST_GAP_S = 0.3
#: Rungs of the glide ladder: (unbroken, no jump).
GLIDES = {"through with flips": (False, False), "no break": (True, False), "no jump": (True, True)}


class Asked:
    """One prescribed task with its item of the document and its task of the catalogue."""

    def __init__(self, task: PrescribedTask, catalogue: dict[str, Task] | None = None) -> None:
        self.task = task
        self._catalogue = catalogue

    @cached_property
    def item(self) -> dict:
        """What its version's document says of it."""
        return item_of(self.task)

    @cached_property
    def shipped(self) -> Task | None:
        """The catalogue's; None where one held sound was prescribed alone."""
        if not self.task.task_code:
            return None
        catalogue = self._catalogue
        if catalogue is None:
            catalogue = every_task(self.task.programme.client.clinic)
        return catalogue.get(self.task.task_code)

    @property
    def params(self) -> dict:
        """Its numbers and rungs."""
        return self.item.get("params", {})

    @property
    def seconds(self) -> float:
        """How long a try lasts, or is to last."""
        if self.task.target_s:
            return self.task.target_s
        return try_seconds(self.shipped, self.params) if self.shipped else 5.0

    @property
    def glide(self) -> GlideTarget:
        """What a glide is asked for."""
        notes = self.item.get("notes", [])
        span = float(max(notes) - min(notes)) if len(notes) > 1 else None
        unbroken, no_jump = GLIDES.get(self.params.get("glide", ""), (False, False))
        return GlideTarget(span, unbroken, no_jump)

    @property
    def longest_gap_s(self) -> float:
        """Between the hiss and the voice."""
        return GAPS_S.get(self.params.get("gap", ""), FIRST_GAP_S)

    @property
    def pattern_hz(self) -> list[float]:
        """The notes of a pattern in order, rests left out."""
        a4_hz = self.task.programme.client.clinic.a4_hz
        line = line_of(self.item, self.shipped) if self.shipped and self.item else []
        return [note.hz(a4_hz=a4_hz) for note, _ in line if isinstance(note, Note)]
