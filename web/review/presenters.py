"""The reed bed: a fortnight of tries, each a reed, in the water of the target of its day."""

from dataclasses import dataclass
from datetime import date, timedelta

from django.utils import timezone

from reedcore.decisions import Step
from web.practice.wording import result_sentence
from web.programmes.models import PrescribedTask
from web.programmes.queries import note_name
from web.ui.reeds import Scale, small_stem, water_steps

from .wording import STEPS

WIDTH, HEIGHT = 1200, 300
LEFT, RIGHT, TOP, GROUND = 52, 1192, 18, 254


@dataclass(frozen=True)
class Day:
    x: float
    label: str
    tries: int


@dataclass(frozen=True)
class BedReed:
    key: str
    path: str
    state: str
    title: str


@dataclass(frozen=True)
class Bed:
    """Everything the drawing needs, and a sentence that says what it shows."""

    width: int
    height: int
    left: int
    right: int
    ground: int
    water: str
    surface: str
    ticks: list[tuple[int, float]]
    days: list[Day]
    reeds: list[BedReed]
    spoken: str


def bed(window):
    """The drawing of a fortnight; None when nothing was measured in it."""
    trials = [
        trial
        for trial in window["trials"]
        if trial.total_s is not None and trial.task.measure == PrescribedTask.HOLD
    ]
    if not trials:
        return None
    top_s = max(1.0, *(max(trial.drawn_s, trial.asked_s) for trial in trials)) * 1.08
    scale = Scale(ground=GROUND, px_per_s=(GROUND - TOP) / top_s)
    by_day = {}
    for trial in trials:
        by_day.setdefault(timezone.localdate(trial.performed_at), []).append(trial)
    count = (window["until"] - window["first"]).days + 1
    wide = (RIGHT - LEFT) / count
    days, reeds, targets = [], [], []
    for index in range(count):
        day = window["first"] + timedelta(days=index)
        x = LEFT + index * wide
        todays = by_day.get(day, [])
        days.append(Day(round(x, 1), _label(day, index), len(todays)))
        step = min(15.0, (wide - 8) / max(1, len(todays)))
        for place, trial in enumerate(todays):
            at = x + 8 + step * (place + 0.3)
            if not targets or targets[-1][1] != trial.asked_s:
                targets.append((at - step / 2, trial.asked_s))
            reeds.append(_reed(trial, at, scale))
    surface = water_steps(targets, left=LEFT, right=RIGHT, scale=scale)
    return Bed(
        width=WIDTH,
        height=HEIGHT,
        left=LEFT,
        right=RIGHT,
        ground=GROUND,
        surface=surface,
        water=f"{surface}L{RIGHT} {GROUND}L{LEFT} {GROUND}Z",
        ticks=_ticks(top_s, scale),
        days=days,
        reeds=reeds,
        spoken=_spoken(trials),
    )


def rows(window):
    """The same tries as figures, newest first."""
    return [
        {
            "trial": trial,
            "note": note_name(trial.task),
            "sentence": result_sentence(trial, note_name=note_name(trial.task)),
        }
        for trial in reversed(window["trials"])
    ]


def summary(window):
    """The fortnight in figures; shares leave out what was not judged."""
    measured = [trial for trial in window["trials"] if trial.total_s is not None]
    judged = [trial for trial in measured if trial.outcome != trial.Outcome.NOT_JUDGED]
    return {
        "tries": len(window["trials"]),
        "days": len({timezone.localdate(trial.performed_at) for trial in window["trials"]}),
        "best_s": max((trial.total_s for trial in measured), default=None),
        "judged": len(judged),
        "met": sum(trial.outcome == trial.Outcome.MET for trial in judged),
        "not_judged": len(window["trials"]) - len(judged),
    }


def decisions(client):
    """The last decisions, each with its step in words."""
    found = list(client.decisions.select_related("decided_by", "made", "task")[:5])
    for each in found:
        each.words = STEPS[Step(each.step)].lower()
    return found


def _reed(trial, x, scale):
    # two tasks of a fortnight may hold different notes: the lean is always from the try's own
    stem = small_stem(
        x=x,
        seconds=trial.drawn_s,
        lean_cents=trial.end_error_cents,
        spread_cents=trial.spread_cents,
        breaks=[(gap["start_s"], gap["end_s"]) for gap in trial.breaks],
        scale=scale,
    )
    when = timezone.localtime(trial.performed_at)
    return BedReed(
        key=str(trial.key),
        path=stem,
        state=trial.outcome,
        title=f"{when:%-d %b %H:%M}: {result_sentence(trial, note_name=note_name(trial.task))}",
    )


def _ticks(top_s, scale):
    every = 1 if top_s < 8 else 5 if top_s < 40 else 10
    return [(second, scale.y(second)) for second in range(every, int(top_s) + 1, every)]


def _label(day: date, index):
    return f"{day:%-d %b}" if index == 0 or day.day == 1 else f"{day.day}"


def _spoken(trials):
    first, last = trials[0], trials[-1]
    met = sum(trial.outcome == trial.Outcome.MET for trial in trials)
    return (
        f"{len(trials)} tries from {timezone.localdate(first.performed_at):%-d %B} to "
        f"{timezone.localdate(last.performed_at):%-d %B}: longest "
        f"{max(trial.total_s for trial in trials):.1f} seconds, {met} on target."
    )
