"""A prescribed task: one item on one note and sound, in one version."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from reedcore.catalogue.settings import chosen_way
from reedcore.catalogue.tasks import Task
from reedcore.measures import TrialGoal, kind_of
from reedcore.pitch import A4_HZ, Note
from reedcore.safety import Hazard
from reedcore.targets import HoldTarget, SecondsKind
from reedcore.targets.judging import SHORTEST_TARGET_S, TargetShape
from reedcore.targets.movements import GlideTarget, MovementDirection
from reedcore.targets.proposing import TALK_WITHIN_DB

from .lines import lines_of
from .programme import Item
from .sounds import line_of, notes_of
from .times import item_seconds
from .words import NONE, breath_inside

#: Rungs of the join ladder: maximum gap, seconds.
GAPS_S = {"gap under 0.3 s": 0.3, "gap under 0.15 s": 0.15, "no gap": 0.0, "no gap, higher": 0.0}
FIRST_GAP_S = 0.3
#: Rungs of the glide ladder: (unbroken, no jump).
GLIDES = {"through with flips": (False, False), "no break": (True, False), "no jump": (True, True)}
#: Kind to listen for on each air-first rung, if it differs from the task's.
STAGES = {"silent trill or bubbles": "hiss", "glide": "glide"}
#: Ending of the names of lip and tongue trills.
TRILL = "trill"
#: Amounts and equipment: not part of a target.
AMOUNTS = ("reps", "sets", "minutes", "seconds", "lines", "items", "cycles", "breaths")
#: Default duration of a trial, seconds.
USUAL_S = 5.0
#: Usual floor of strong work, dB above comfortable: over the band of comfortable talk (convention).
LOUD_FLOOR_DB = TALK_WITHIN_DB


def floor_in_force(item: Item, task: Task) -> float | None:
    """Return the prescribed floor, or the usual one of strong work, dB above comfortable."""
    if item.floor is not None or not (task.is_loud and kind_of(task.measure).can_have_level):
        return item.floor
    return LOUD_FLOOR_DB if item.ceiling is None else min(LOUD_FLOOR_DB, item.ceiling)


@dataclass(frozen=True)
class PrescribedItem:
    """One prescribed task.

    Attributes:
        key: its number, which trials name.
        version: of the programme.
        code: the catalogue's; empty where one held sound was prescribed alone.
        target_s: None where the task has no seconds.
        counts: "total" or "steady" seconds.
        tries: a session, as stored; see :attr:`tries_per_session`.
        item: of its version's programme; None where it was prescribed alone.
        shipped: the catalogue's task; None where it has none (any more).
    """

    key: int
    version: int
    code: str
    measure: str
    sound: str
    note_midi: int | None = None
    target_s: float | None = None
    counts: str = "total"
    tries: int = 1
    item_id: str = ""
    item: Item | None = None
    shipped: Task | None = None
    a4_hz: float = A4_HZ

    @property
    def series(self) -> tuple[str, int | None, str, str]:
        """Return its series; results are never joined across task, note, sound and measure
        (MEASURES §5.10)."""
        return self.code, self.note_midi, self.sound, self.measure

    @property
    def item_key(self) -> str:
        """Return the key that stays the same through every version: the item's, because a
        programme may contain a task twice."""
        return self.item_id or f"{self.code}/{self.sound}"

    @property
    def aims(self) -> tuple[Any, ...]:
        """Return all that a trial is judged by except the note: a change starts a new series."""
        params = tuple(
            sorted((name, value) for name, value in self.params.items() if name not in AMOUNTS)
        )
        limits = tuple(sorted(self.setting.limits.items()))
        band = (self.setting.floor, self.setting.ceiling)
        return self.target_s, self.counts, band, limits, params

    @property
    def note(self) -> Note | None:
        """Return the note; None for any note."""
        return None if self.note_midi is None else Note(self.note_midi)

    @property
    def params(self) -> Mapping[str, Any]:
        """Return its parameters and rungs."""
        return self.setting.params

    @property
    def setting(self) -> Item:
        """Return its item; an item without settings if one sound was prescribed alone."""
        return self.item or Item(self.item_id, self.code)

    @property
    def tries_per_session(self) -> int:
        """Return the trials of a session; of lines as many as there are lines."""
        if kind_of(self.measure).is_by_line and self.shipped:
            return len(lines_of(self.setting, self.shipped))
        return self.tries

    def floor_db(self, *, has_reference: bool) -> float | None:
        """Return the level that a trial must reach, dB above the comfortable one. Without a
        prescribed floor a strong task has the usual one as soon as the comfortable level is known,
        so that soft voice and whispering are not counted as strong."""
        if has_reference and self.shipped is not None:
            return floor_in_force(self.setting, self.shipped)
        return self.setting.floor

    @property
    def is_loud(self) -> bool:
        """Return whether the task asks for strong voice."""
        return self.shipped is not None and self.shipped.is_loud

    @property
    def seconds(self) -> float:
        """Return how long a try lasts, or is to last."""
        if self.target_s:
            return self.target_s
        return item_seconds(self.setting, self.shipped) if self.shipped else USUAL_S

    @property
    def kind(self) -> str:
        """Return the kind of measure: its own, or the rhythm that its shape requires."""
        stage = chosen_way(self.shipped, self.params, "stage") if self.shipped else ""
        if stage in STAGES:
            return STAGES[stage]
        shape = self.shipped.shape if self.shipped else ""
        return kind_of(self.measure, shape).code

    @property
    def breath_inside(self) -> str:
        """Return whether a breath is allowed or required within a try."""
        return breath_inside(self.setting, self.shipped) if self.shipped else NONE

    @property
    def is_chopped(self) -> bool:
        """Return whether the task is a trill or bubbles."""
        in_water = self.shipped is not None and Hazard.WATER in self.shipped.hazards
        return in_water or self.sound.endswith(TRILL)

    @property
    def glide(self) -> GlideTarget:
        """Return the goal of a glide."""
        notes = notes_of(self.item, self.shipped) if self.item and self.shipped else ()
        span = float(max(notes) - min(notes)) if len(notes) > 1 else None
        unbroken, no_jump = GLIDES.get(self.params.get("glide", ""), (False, False))
        shape = self.shipped.shape if self.shipped else ""
        way = MovementDirection(shape) if shape in set(MovementDirection) else MovementDirection.ANY
        return GlideTarget(span, unbroken, no_jump, way)

    @property
    def longest_gap_s(self) -> float:
        """Return the longest gap allowed between the hiss and the voice, s."""
        return GAPS_S.get(self.params.get("gap", ""), FIRST_GAP_S)

    def pattern_hz(self, number: int | None = None) -> list[float]:
        """Return the notes of a pattern in order without rests; of one round if it has a number."""
        if self.item is None or self.shipped is None:
            return []
        line = line_of(self.item, self.shipped, number=number)
        return [note.hz(a4_hz=self.a4_hz) for note, _ in line if isinstance(note, Note)]

    def target(self, *, seconds: float | None = None, has_reference: bool = False) -> HoldTarget:
        """Return the target; ``seconds`` replaces its duration for a session with another
        target; ``has_reference``: the comfortable level of the device is known."""
        limits = self.setting.limits
        return HoldTarget(
            seconds=seconds or self.target_s or SHORTEST_TARGET_S,
            counts=SecondsKind(self.counts),
            note=self.note,
            floor_db=self.floor_db(has_reference=has_reference),
            ceiling_db=self.setting.ceiling,
            spread_cents=limits.get("spread_cents"),
            level_spread_db=limits.get("level_spread_db"),
            end_fall_db=limits.get("end_fall_db"),
        )

    @property
    def goal(self) -> TrialGoal:
        """Return the goal that a trial is measured against."""
        return self.goal_of()

    def goal_of(
        self,
        *,
        number: int | None = None,
        beat_s: float | None = None,
        has_reference: bool = False,
    ) -> TrialGoal:
        """Return the goal of one trial.

        Args:
            number: the round of a pattern.
            beat_s: its beat in the recording, s.
            has_reference: the comfortable level of the device is known.
        """
        held = kind_of(self.measure).can_be_steady
        return TrialGoal(
            kind=self.kind,
            target=replace(
                self.target(
                    seconds=None if held else SHORTEST_TARGET_S, has_reference=has_reference
                ),
                shape=TargetShape(self.shipped.level if self.shipped else TargetShape.EVEN),
            ),
            seconds=self.seconds,
            note_hz=self.note.hz(a4_hz=self.a4_hz) if self.note else None,
            glide=self.glide,
            pattern_hz=tuple(self.pattern_hz(number)),
            number=number,
            longest_gap_s=self.longest_gap_s,
            pulses=int(self.params.get("pulses", 0)),
            allows_breath=self.breath_inside != NONE,
            beat_s=beat_s,
            tempo_bpm=float(self.params.get("tempo", 0.0)),
            is_chopped=self.is_chopped,
        )
