"""Create the rows of a demo story: versions, sessions, trials with traces, and reports.

The figures are made up; how each try did against its target is judged by the core as ever.
"""

from __future__ import annotations

from bisect import bisect_right
from dataclasses import replace
from datetime import date, datetime, time, timedelta
from itertools import pairwise
from typing import TYPE_CHECKING, Any
from uuid import UUID, uuid5

import numpy as np

from reedcore.catalogue.tasks import Task
from reedcore.dose import due_slots
from reedcore.formats.trace import STEP_S, PitchTrace, pack_trace
from reedcore.measures import kind_of
from reedcore.programme import taper
from reedcore.programme.document import empty_programme, new_item
from reedcore.programme.document_values import programme_document, programme_from
from reedcore.programme.programme import Programme
from reedcore.safety import Flag
from reedcore.targets import TrialMeasures, judge
from reedcore.targets.judging import ON_PITCH_CENTS, VerdictReason
from web.baseline.models import Baseline, Target
from web.catalogue.queries import all_tasks
from web.clients.models import Client
from web.programmes.actions import OpenStops, publish_document
from web.record.models import Decision, ProgrammeVersion, SelfReport, Session, Trial
from web.record.models import Trace as KeptTrace
from web.record.programmes import note_hz, target_of
from web.screening.actions import record_stop
from web.sound.wording import TOO_LOUD

from .stories import POWER, Line, Story

if TYPE_CHECKING:
    from web.accounts.models import User
    from web.record.models import PrescribedTask

#: Create traces for recent weeks only; older ones would dominate the load time.
TRACED_DAYS = 30
WEEKS = 52
#: Variation between the trials of a session, as shares.
TRIES = (0.03, -0.045, 0.005, 0.05)
DEVICES = ("tablet microphone", "headset")
#: Level variation of the synthetic holds; none wavers or trails off.
LEVEL_SD_DB, END_FALL_DB = 0.8, 1.2


class Historian:
    """Writes one person's history."""

    def __init__(
        self, client: Client, story: Story, *, by: User, today: date, key_space: UUID
    ) -> None:
        self.client, self.story, self.by, self.today = client, story, by, today
        self.keys = key_space
        self.rng = np.random.default_rng(sum(map(ord, story.code)))
        self.catalogue: dict[str, Task] = all_tasks(client.clinic)
        self.sessions: list[Session] = []
        self.trials: list[Trial] = []
        self.traces: list[KeptTrace] = []
        self.reports: list[SelfReport] = []
        self.helper = client.helpers.first() if story.helper else None

    def write(self) -> None:
        """Write the whole history."""
        if self.story.goal_s:
            self._goal()
        versions = self._versions()
        starts = [start for start, _ in versions]
        begin = starts[0]
        for back in range((self.today - begin).days, self.story.until - 1, -1):
            day = self.today - timedelta(days=back)
            programme = versions[bisect_right(starts, day) - 1][1]
            dose = programme_from(programme.document).dose
            due = [slot for slot in due_slots(dose, until=day) if slot.day == day]
            # Key events of a story happen even on days without a due session.
            for number in range(len(due) or int(back in self._required_days())):
                if self.rng.random() < self.story.keeps or back in self._required_days():
                    self._session(programme, day, back, number)
        self._weekly()
        Session.objects.bulk_create(self.sessions)
        Trial.objects.bulk_create(self.trials)
        KeptTrace.objects.bulk_create(self.traces)
        SelfReport.objects.bulk_create(self.reports)
        if self.story.stopped:
            self._stop()

    def _required_days(self) -> set[Any]:
        stopped = self.story.stopped
        return {*self.story.cannot, *self.story.strained, *((stopped[0],) if stopped else ())}

    def _goal(self) -> None:
        """Return the hold goal of the block, as agreed at the first visit."""
        at = self._moment(self.today - timedelta(days=self.story.targets[0][0] + 1), 10)
        sheet = Baseline.objects.create(
            client=self.client, begun_at=at, begun_by=self.by, closed_at=at
        )
        values = {"goal_s": self.story.goal_s, "today_s": self.story.targets[0][1]}
        Target.objects.create(
            client=self.client, baseline=sheet, kind="hold", rule="from_volume",
            decision=Target.Decision.ACCEPTED, values=values, proposed=values, inputs={},
            decided_at=at, decided_by=self.by,
        )  # fmt: skip

    def _versions(self) -> list[tuple[date, ProgrammeVersion]]:
        story = self.story
        prescribed = self._starting_programme(*story.targets[0])
        steps = [(days, "target", seconds) for days, seconds in story.targets]
        steps += [(days, "taper", week) for days, week in story.taper]
        if story.maintenance_since:
            steps.append((story.maintenance_since, "maintain", 0))
        made: list[tuple[date, ProgrammeVersion]] = []
        for days, what, value in sorted(steps, key=lambda step: -step[0]):
            day = self.today - timedelta(days=days)
            if what == "target":
                prescribed = _set_seconds(prescribed, 0, value)
                if story.taper == () and "seconds" in prescribed.items[1].params:
                    prescribed = _set_seconds(prescribed, 1, max(3.0, round(value * 0.7)))
            elif what == "maintain":
                prescribed = taper.to_maintenance(prescribed, today=day)
            elif value == 1:
                prescribed = taper.begin(
                    prescribed, peak_s=story.peak_s, today=day, catalogue=self.catalogue
                )
            else:
                prescribed = taper.move_week(prescribed, by=1, today=day, catalogue=self.catalogue)
            programme = self._publish(prescribed, day, what)
            if made and what == "target":
                self._decision(made[-1][1], programme, day, days)
            made.append((day, programme))
            prescribed = programme_from(programme.document)
        return made

    def _starting_programme(self, days: int, seconds: float) -> Programme:
        story = self.story
        empty = empty_programme(self.today - timedelta(days=days))
        dose = replace(empty.dose, a_day=story.a_day, weekdays=tuple(story.weekdays), weeks=WEEKS)
        items = []
        for number, (code, notes) in enumerate(story.tasks, start=1):
            item = replace(new_item(self.catalogue[code], id=f"item-{number}"), notes=tuple(notes))
            if code != POWER and "reps" in item.params:
                item = replace(item, params={**item.params, "reps": 4 if number == 1 else 3})
            items.append(item)
        prescribed = replace(empty, school=story.school, dose=dose, items=tuple(items))
        return _set_seconds(prescribed, 0, seconds)

    def _publish(self, prescribed: Programme, day: date, what: str) -> ProgrammeVersion:
        reason = {"target": "one rung", "taper": "the taper", "maintain": "maintenance"}[what]
        at = self._moment(day, 8)
        try:
            return self._publish_version(prescribed, reason, at)
        except OpenStops as stops:
            agreed = dict.fromkeys(stops.keys, "Talked over at the visit; short on purpose.")
            return self._publish_version(replace(prescribed, overrules=agreed), reason, at)

    def _publish_version(
        self, prescribed: Programme, reason: str, at: datetime
    ) -> ProgrammeVersion:
        document = programme_document(prescribed)
        return publish_document(self.client, document, by=self.by, reason=reason, at=at)

    def _decision(
        self, before: ProgrammeVersion, made: ProgrammeVersion, day: date, days: int
    ) -> None:
        task = before.tasks.first()
        Decision.objects.create(
            client=self.client, task=task, step="advance", reason="most_on_target",
            facts={"share": 0.92, "trials": 12.0}, accepted=True, decided_by=self.by,
            created_version=made,
            decided_at=self._moment(day, 8),
        )  # fmt: skip

    def _session(self, programme: ProgrammeVersion, day: date, back: int, number: int) -> None:
        rng, story = self.rng, self.story
        begun = self._moment(day, 9 + 8 * number, int(rng.integers(0, 50)))
        key = uuid5(self.keys, f"{story.code}/{back}/{number}")
        stopped = story.stopped is not None and back == story.stopped[0]
        tasks = list(programme.tasks.all())
        voice = "tired" if rng.random() < 0.08 else "as_usual"
        self.sessions.append(
            Session(
                key=key, client=self.client, programme=programme, sort="full", day="usual",
                voice=voice, begun_at=begun, ended_at=begun + timedelta(minutes=14),
                ending="stopped" if stopped else "done", items_planned=len(story.tasks),
                items_done=1 if stopped else len(story.tasks), device=self._device(back),
                helper=self.helper if back % 3 == 0 else None,
            )
        )  # fmt: skip
        at = begun
        skipped = set()
        if back in story.cannot:
            other = next(task for task in tasks if task.task_code == story.tasks[1][0])
            self._mark(key, SelfReport.Kind.SKIPPED, "cant", at, other)
            skipped = {other.task_code}
        for task in tasks:
            task.programme = programme
            programme.client = self.client
            if not kind_of(task.measure).can_be_steady or task.task_code in skipped:
                continue
            for place in range(task.tries):
                at += timedelta(seconds=50)
                self._try(task, key, at, back, place, first=task.task_code == story.tasks[0][0])
        effort = round(
            float(np.clip(self._value_at(story.effort, back) + rng.normal(0, 0.4), 1, 10))
        )
        for code in dict.fromkeys(
            task.task_code for task in tasks if task.task_code not in skipped
        ):
            task = next(task for task in tasks if task.task_code == code)
            self._mark(key, SelfReport.Kind.EFFORT, effort, at, task)
            if story.school == "loud":
                strained = back in story.strained
                value = {"said": strained, "where": "throat" if strained else ""}
                self._mark(key, SelfReport.Kind.STRAIN, value, at, task)

    def _try(
        self,
        task: PrescribedTask,
        session: UUID,
        at: datetime,
        back: int,
        place: int,
        *,
        first: Any,
    ) -> None:
        rng, story = self.rng, self.story
        usual = self._value_at(story.held, back) if first else (task.target_s or 5.0) * 1.02
        # The trials of a session follow one pattern around the usual: three of four above it.
        apart = TRIES[place % len(TRIES)] + rng.normal(0, 0.004)
        held_s = max(1.0, usual * (1 + apart))
        note = note_hz(task)
        middle = self._value_at(story.note_cents, back) + rng.normal(0, 4)
        spread = max(4.0, self._value_at(story.shaky_cents, back) * rng.uniform(0.8, 1.2))
        breaks = [(held_s * 0.6, held_s * 0.6 + 0.15)] if rng.random() < spread / 160 else []
        cents = self._wander(held_s, middle, spread)
        noisy = story.noisy is not None and back <= story.noisy
        level_db = None
        if story.level_db and not noisy:
            level_db = round(self._value_at(story.level_db, back) + rng.normal(0, 0.6), 2)
        share = float(np.mean(np.abs(cents) <= ON_PITCH_CENTS))
        measured = TrialMeasures(
            total_s=round(held_s, 2),
            steady_s=None if noisy else round(held_s * rng.uniform(0.85, 0.98), 2),
            error_cents=None if note is None or noisy else float(np.median(cents)),
            share_on_pitch=None if note is None or noisy else share,
            level_db=level_db,
            no_level=VerdictReason.ROOM_TOO_LOUD if noisy else VerdictReason.NO_REFERENCE,
            spread_cents=None if noisy else round(float(np.std(cents)), 1),
            level_sd_db=None if noisy else LEVEL_SD_DB,
            end_fall_db=None if noisy else END_FALL_DB,
        )
        judgement = judge(measured, target_of(task))
        key = uuid5(session, f"{task.position}/{place}")
        hz = (note or 160.0) * 2 ** (float(np.median(cents)) / 1200)
        end = round(float(np.median(cents[-max(1, len(cents) // 3) :])), 1)
        self.trials.append(
            Trial(
                key=key, client=self.client, task=task, session_id=session, performed_at=at,
                source=Trial.Source.MICROPHONE, outcome=judgement.overall.value,
                parts=[
                    {"part": part.part.value, "verdict": part.verdict.value, "why": part.why.value}
                    for part in judgement.parts
                ],
                total_s=measured.total_s, steady_s=measured.steady_s,
                median_hz=None if noisy else round(hz, 2), error_cents=measured.error_cents,
                end_error_cents=None if note is None or noisy else end,
                share_on_pitch=measured.share_on_pitch,
                spread_cents=measured.spread_cents,
                figures={
                    "level_sd_db": measured.level_sd_db, "end_fall_db": measured.end_fall_db,
                    "load_s": measured.total_s, "cycles": round(hz * (measured.total_s or 0.0)),
                },
                level_mean_dbfs=round(-30 + (level_db or 0.0) + rng.normal(0, 0.5), 2),
                level_db=level_db, snr_db=9.0 if noisy else 38.0,
                breaks=[{"start_s": round(a, 2), "end_s": round(b, 2)} for a, b in breaks],
                reasons=[reason.value for reason in TOO_LOUD] if noisy else [],
                recording_s=round(held_s + 1.4, 2),
                sample_rate_hz=48_000, noise_floor_dbfs=-42.0 if noisy else -66.0,
                capture={"device": self._device(back), "browser": "tablet browser"},
            )
        )  # fmt: skip
        if back <= TRACED_DAYS and not noisy:
            self._trace(key, cents, hz, measured.total_s, breaks)

    def _wander(self, held_s: float, middle: float, spread: float) -> np.ndarray:
        """Return a pitch trace about a middle: slow wandering, and an onset from below."""
        count = max(10, int(held_s / STEP_S))
        steps = self.rng.normal(0, 1, count)
        slow = np.convolve(steps, np.ones(15) / 15**0.5, mode="same")
        onset = -45 * np.exp(-np.arange(count) * STEP_S / 0.25)
        return middle + spread * slow / max(0.2, float(np.std(slow))) + onset

    def _trace(
        self, key: UUID, cents: np.ndarray, hz: float, total_s: Any, breaks: list[Any]
    ) -> None:
        note_cents = 1200 * np.log2(hz / 440.0) - float(np.median(cents))
        pitch = cents + note_cents
        for start, end in breaks:
            pitch[int(start / STEP_S) : int(end / STEP_S)] = np.nan
        level = (
            -30 - 3 * np.arange(len(cents)) * STEP_S / total_s + self.rng.normal(0, 0.3, len(cents))
        )
        self.traces.append(KeptTrace(trial_id=key, packed=pack_trace(PitchTrace(pitch, level))))

    def _weekly(self) -> None:
        """Create the weekly answer in the first session of each week before today."""
        weeks: dict[int, Session] = {}
        for session in self.sessions:
            back = (self.today - session.begun_at.date()).days
            weeks.setdefault(back // 7, session)
        for week, session in weeks.items():
            value = round(float(np.clip(self._value_at(self.story.bother, 7 * week), 0, 10)))
            self._mark(session.key, SelfReport.Kind.BOTHER, value, session.begun_at)

    def _mark(
        self,
        session: UUID,
        kind: Any,
        value: dict[str, Any] | int | str,
        at: datetime,
        task: PrescribedTask | None = None,
    ) -> None:
        key = uuid5(session, f"{kind}/{task.pk if task else ''}/{len(self.reports)}")
        self.reports.append(
            SelfReport(
                key=key, client=self.client, session_id=session, task=task, kind=kind, value=value,
                said_at=at,
            )
        )  # fmt: skip

    def _stop(self) -> None:
        if self.story.stopped is None:
            return
        _, flags, comment = self.story.stopped
        session = self.sessions[-1]
        record_stop(
            self.client, key=uuid5(session.key, "stop"), flags=[Flag(each) for each in flags],
            said_at=session.begun_at + timedelta(minutes=4), clinicians=[self.by],
            session_key=session.key, comment=comment,
        )  # fmt: skip

    def _device(self, back: int) -> str:
        changed = self.story.new_device
        return DEVICES[1] if changed is not None and back <= changed else DEVICES[0]

    def _value_at(self, line: Line, back: int) -> float:
        """Return the value of a line this many days ago."""
        if back >= line[0][0]:
            return line[0][1]
        for (far, before), (near, after) in pairwise(line):
            if near <= back <= far:
                return before + (after - before) * (far - back) / max(1, far - near)
        return line[-1][1]

    def _moment(self, day: date, hour: int, minute: int = 0) -> datetime:
        return datetime.combine(day, time(hour, minute), self.client.zone)


def _set_seconds(prescribed: Programme, place: int, seconds: float) -> Programme:
    items = list(prescribed.items)
    items[place] = replace(items[place], params={**items[place].params, "seconds": seconds})
    return replace(prescribed, items=tuple(items))
