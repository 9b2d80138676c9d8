"""First words for each part of a note, out of the figures alone; the clinician continues."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Callable
from statistics import fmean, median
from typing import Any

from reedcore.decisions import Step
from reedcore.dose import DoseKind
from reedcore.measures import kind_of
from reedcore.progress import BetterDirection
from reedcore.progress.trend import MeanChange
from web.clients.wording import listed
from web.decisions.wording import STEPS
from web.practice.wording import SKIPS, VOICES
from web.record.models import SelfReport, Session, Trial
from web.results.figures import plain
from web.results.hours import PARTS_OF_DAY
from web.screening.shown_stops import stop_sentence

from .facts import Facts, PracticePeriod
from .models import ClinicalNote
from .wording import PARTS

VOICE_WORDS = {voice.value: words.lower() for voice, words in VOICES.items()}
#: By the client's clock.
HOURS = tuple((until, f"in the {name}") for until, name in PARTS_OF_DAY)
SINCE = (
    (2.0, "up to 2 h after medication"),
    (4.0, "2 to 4 h after it"),
    (1e9, "more than 4 h after it"),
)
#: More series than these would not be read in a note.
MOST_SERIES = 6


def drafted(kind: str, facts: Facts) -> dict[str, str]:
    """The words of each part."""
    makers = _MAKERS[ClinicalNote.Kind(kind)]
    return {code: "\n".join(makers[code](facts)) for code, _ in PARTS[ClinicalNote.Kind(kind)]}


def _said(facts: Facts) -> list[str]:
    told = []
    voices = Counter(session.voice for session in facts.sessions if session.voice)
    if facts.session and facts.session.voice:
        told.append(f"Voice today: {VOICE_WORDS[facts.session.voice]}.")
    elif voices:
        days = (f"{VOICE_WORDS[code]} {count}" for code, count in voices.most_common())
        told.append(f"Voice before practice, by session: {listed(days)}.")
    efforts = facts.said(SelfReport.Kind.EFFORT)
    if efforts:
        low, high = min(efforts), max(efforts)
        spread = f" on average, {low} to {high}" if low != high else ""
        told.append(f"Effort {plain(fmean(efforts), 1 if spread else 0)} of 10{spread}.")
    told += _strain(facts)
    told += [
        f"{_task(report)}: skipped, “{SKIPS[report.value]}”."
        for report in facts.reports
        if report.kind == SelfReport.Kind.SKIPPED
    ]
    bothers = facts.said(SelfReport.Kind.BOTHER)
    if bothers:
        told.append(f"Bother from the voice: {', '.join(map(str, bothers))} of 10.")
    told += [
        f"“{report.value}”" for report in facts.reports if report.kind == SelfReport.Kind.COMMENT
    ]
    told += [stop_sentence(stop, facts.client.zone) for stop in facts.stops]
    return told or ["No further reports."]


def _strain(facts: Facts) -> list[Any]:
    asked = facts.said(SelfReport.Kind.STRAIN)
    yes = [each.get("where", "") for each in asked if each["said"]]
    if yes:
        places = listed(dict.fromkeys(where for where in yes if where))
        return [
            f"Strain reported {len(yes)} of {len(asked)} times{f' ({places})' if places else ''}."
        ]
    return [f"No strain reported (asked {len(asked)} times)."] if asked else []


def _task(report: SelfReport) -> str:
    return (
        report.task.task_code.replace("_", " ")
        if report.task and report.task.task_code
        else "A task"
    )


def _measured(facts: Facts) -> list[str]:
    told = [_series(each) for each in facts.practised[:MOST_SERIES]]
    more = len(facts.practised) - MOST_SERIES
    if more > 0:
        told.append(f"{more} more task{'s' * (more > 1)} in the figures below.")
    return (told or ["No measurements."]) + _done(facts)


def _done(facts: Facts) -> list[str]:
    """What was done without measuring, task by task."""
    by_task = defaultdict(list)
    for each in reversed(facts.told):
        by_task[each.title].append(each)
    found = []
    for title, days in by_task.items():
        on = f" on {len(days)} day{'s' * (len(days) > 1)}" if facts.session is None else ""
        last = " ".join(days[-1].done) or "no sets counted."
        felt = Counter(words for day in days for words in day.felt)
        said = ", ".join(f"{words} {count}" for words, count in felt.most_common())
        found.append(f"{title}{on}: {last[0].lower()}{last[1:]}{f' {said}.' if said else ''}")
    return found


def _series(each: PracticePeriod) -> str:
    unit = each.series.figure.unit
    values = [value for row in each.within if (value := each.series.value_of(row)) is not None]
    tries = f"{len(each.within)} trial{'' if len(each.within) == 1 else 's'}"
    if not values:
        return f"{each.series.title}: {tries}, no measurements."
    told = [f"{tries}, median {median(values):.1f} {unit}, best {max(values):.1f} {unit}"]
    judged = [row for row in each.within if row.outcome != Trial.Outcome.NOT_JUDGED]
    if judged:
        met = sum(row.outcome == Trial.Outcome.MET for row in judged)
        told.append(f"{met} of {len(judged)} on target")
    spreads = [row.spread_cents for row in each.within if row.spread_cents is not None]
    if spreads:
        told.append(f"spread {median(spreads):.0f} cents")
    return f"{each.series.title}: {', '.join(told)}."


def _meaning(facts: Facts) -> list[str]:
    """Changed or not, against what, and what follows from it."""
    told = []
    for each in facts.practised[:MOST_SERIES]:
        course, figure = each.value.course, each.series.figure
        if course is None:
            continue
        change, unit = course.planned, figure.unit
        if change is None or course.week_mean is None:
            if course.week_mean is not None and course.first_mean is not None:
                told.append(_not_yet(each, course.week_mean, course.first_mean, unit))
            continue
        verdict, follows = _VERDICTS[_direction(course.week_mean, change, figure.better)]
        line = (
            f"{each.series.title}: {verdict}. The 7-day mean is {plain(course.week_mean, 1)} "
            f"{unit}, {plain(change.by, 1, signed=True)} {unit} compared with the first weeks. "
            f"Minimal detectable change: {plain(change.limit, 1)} {unit}"
            f"{' (provisional)' if change.provisional else ''}. {follows}"
        )
        if course.trend:
            line += f" Trend: {each.trend}{f'; {each.mixed}' if each.mixed else ''}."
        told.append(line)
    return told or ["Too few measurements to assess change."]


#: By the direction of a change: what it is, and what follows.
_VERDICTS = {
    "better": ("real improvement", "The programme continues."),
    "worse": ("real decline", "Find the cause before you progress the programme."),
    "same": ("no real change", "The difference is within day-to-day variation."),
}


def _direction(week_mean: float, change: MeanChange, better: BetterDirection) -> str:
    if not change.is_real:
        return "same"
    if better is BetterDirection.NEARER:
        improved = abs(week_mean) < abs(week_mean - change.by)
    else:
        improved = (change.by > 0) == (better is BetterDirection.HIGHER)
    return "better" if improved else "worse"


def _not_yet(each: PracticePeriod, week: float, first: float, unit: str) -> str:
    """What is known before a whole week lies after the days that a series begins with."""
    return (
        f"{each.series.title}: too early to assess change. The 7-day mean is "
        f"{plain(week, 1)} {unit}; the mean of the first weeks is "
        f"{plain(first, 1)} {unit}. A comparison needs about 4 weeks of practice."
    )


def _next(facts: Facts) -> list[str]:
    told = [
        f"{STEPS[Step(each.step)]}"
        + (f", programme {each.made.version}" if each.made else "")
        + f", decided {each.decided_at.astimezone(facts.client.zone):%-d %B}."
        for each in facts.decisions
    ]
    told += [f"Proposed: {words}" for words in facts.proposed]
    return [*told, *_programme(facts)]


def _programme(facts: Facts) -> list[str]:
    programme = facts.programme
    if programme is None:
        return ["No programme."]
    told = f"Programme {programme.version} continues"
    if programme.prescribed:
        dose = programme.prescribed.dose
        if dose.kind is DoseKind.ON_DEMAND:
            told += ", on demand"
        else:
            a_day = {1: "once", 2: "twice"}.get(dose.a_day, f"{dose.a_day} times")
            told += f": {a_day} a day, {len(dose.weekdays)} days a week"
    return [f"{told}."]


def _course(facts: Facts) -> list[str]:
    count = len(facts.sessions)
    told = [
        f"{facts.first:%-d %B %Y} to {facts.last:%-d %B %Y}: {count} session{'s' * (count != 1)}."
    ]
    if facts.kept is not None:
        told.append(f"{facts.due} sessions were due; adherence {facts.kept:.0%}.")
    left = sum(each.ending == Session.Ending.LEFT for each in facts.sessions)
    stopped = sum(each.ending == Session.Ending.STOPPED for each in facts.sessions)
    if left or stopped:
        told.append(f"{left} ended early, {stopped} stopped.")
    return [*told, *_said(facts)]


def _goals(facts: Facts) -> list[str]:
    told = [f"In the client’s words: “{facts.client.goals}”"] if facts.client.goals else []
    for target in facts.client.targets.filter(kind="hold").order_by("-decided_at")[:1]:
        if (target.values or {}).get("goal_s"):
            told.append(f"Hold goal: {target.values['goal_s']:g} s.")
    return told or ["No goal on record."]


def _first_and_last(facts: Facts) -> list[str]:
    return [
        f"{each.series.title}, in {each.series.figure.unit}: {each.value.baseline} in the first "
        f"three sessions, {each.value.week} in the last seven days, best {each.value.best}."
        for each in facts.practised[:MOST_SERIES]
    ] or ["No measurements."]


def _outcome(facts: Facts) -> list[str]:
    told = _meaning(facts)
    for target in facts.client.targets.filter(kind="hold").order_by("-decided_at")[:1]:
        goal = (target.values or {}).get("goal_s")
        bests = [
            course.best
            for each in facts.practised
            if kind_of(each.series.measure).steady
            and (course := each.value.course)
            and course.best is not None
        ]
        if goal and bests:
            reached = "reached" if max(bests) >= goal else "not reached"
            told.append(f"Longest hold {max(bests):.1f} s; goal of {goal:g} s {reached}.")
    return told


def _question(facts: Facts) -> list[str]:
    client = facts.client
    told = [f"Referred for: {client.referral_reason}"] if client.referral_reason else []
    if client.laryngeal_finding:
        on = f" ({client.examined_on:%-d %B %Y})" if client.examined_on else ""
        told.append(f"Last finding{on}: {client.laryngeal_finding}")
    return told or ["The referral question is not on record. Enter it here."]


def _by_clock(facts: Facts) -> list[str]:
    """Held series by the hour of the day, and by the time since medication where it was logged."""
    told = _measured(facts)
    zone = facts.client.zone
    for each in facts.practised[:MOST_SERIES]:
        if not kind_of(each.series.measure).in_seconds:
            continue
        told += _binned(each, HOURS, lambda row: row.at.astimezone(zone).hour)
        told += _binned(each, SINCE, lambda row: row.since_medication_h)
    if not any(
        row.since_medication_h is not None for each in facts.practised for row in each.within
    ):
        told.append("Time since medication was not logged.")
    return told


def _binned(each: PracticePeriod, bins: tuple[Any, ...], of: Callable[..., Any]) -> list[str]:
    found = defaultdict(list)
    for row in each.within:
        at, value = of(row), each.series.value_of(row)
        if at is not None and value is not None:
            found[next(name for until, name in bins if at < until)].append(value)
    if not found:
        return []
    parts = [
        f"{name} {median(found[name]):.1f} {each.series.figure.unit} ({len(found[name])})"
        for _, name in bins
        if name in found
    ]
    return [f"{each.series.title}, median (trials): {'; '.join(parts)}."]


_MAKERS = {
    ClinicalNote.Kind.SESSION: {
        "said": _said, "measured": _measured, "meaning": _meaning, "next": _next,
    },
    ClinicalNote.Kind.PROGRESS: {
        "course": _course, "measured": _measured, "meaning": _meaning, "next": _next,
    },
    ClinicalNote.Kind.DISCHARGE: {
        "goals": _goals, "course": _course, "measured": _first_and_last, "outcome": _outcome,
        "next": _programme,
    },
    ClinicalNote.Kind.SPECIALIST: {
        "question": _question, "course": _course, "measured": _by_clock, "meaning": _meaning,
    },
}  # fmt: skip
