"""First words for each part of a note, out of the figures alone; the clinician continues."""

from __future__ import annotations

from collections import Counter, defaultdict
from statistics import fmean, median
from typing import Any

from django.utils.formats import date_format
from django.utils.translation import gettext, ngettext

from reedcore.decisions import Step
from reedcore.dose import DoseKind
from reedcore.dose.today import Voice
from reedcore.measures import kind_of
from reedcore.progress import BetterDirection
from reedcore.progress.trend import MeanChange
from web.catalogue.queries import all_tasks
from web.clients.wording import join_words
from web.decisions.wording import STEPS
from web.practice.wording import SKIPS, title_of
from web.record.models import SelfReport, Session, Trial
from web.record.prescribed_item import PrescribedRow
from web.record.programmes import note_name
from web.results.figures import plain
from web.screening.shown_stops import stop_sentence
from web.ui.dates import full_day, month_day
from web.ui.marked import Words, gettext_noop

from .drafted_hours import hour_sentences
from .facts import Facts, PracticePeriod
from .models import ClinicalNote
from .wording import PARTS

#: Maximum number of series in a note.
MOST_SERIES = 6


def draft_note(kind: str, facts: Facts) -> dict[str, str]:
    """Return the words of each part."""
    makers = _MAKERS[ClinicalNote.Kind(kind)]
    return {code: "\n".join(makers[code](facts)) for code, _ in PARTS[ClinicalNote.Kind(kind)]}


def _report_sentences(facts: Facts) -> list[str]:
    sentences = []
    voices = Counter(session.voice for session in facts.sessions if session.voice)
    if facts.session and facts.session.voice:
        sentences.append(
            gettext("Voice today: {value}.").format(value=_voice_words(facts.session.voice))
        )
    elif voices:
        days = (f"{_voice_words(code)} {count}" for code, count in voices.most_common())
        sentences.append(
            gettext("Voice before practice, by session: {listed}.").format(listed=join_words(days))
        )
    efforts = facts.values_of(SelfReport.Kind.EFFORT)
    if efforts:
        low, high = min(efforts), max(efforts)
        if low == high:
            sentences.append(gettext("Effort {plain} of 10.").format(plain=plain(low, 0)))
        else:
            sentences.append(
                gettext("Effort {plain} of 10 on average, {low} to {high}.").format(
                    plain=plain(fmean(efforts), 1), low=low, high=high
                )
            )
    sentences += _strain(facts)
    sentences += _skipped_sentences(facts)
    bothers = facts.values_of(SelfReport.Kind.BOTHER)
    if bothers:
        sentences.append(
            gettext("Bother from the voice: {words} of 10.").format(
                words=", ".join(map(str, bothers))
            )
        )
    sentences += [
        f"“{report.value}”" for report in facts.reports if report.kind == SelfReport.Kind.COMMENT
    ]
    sentences += [f"“{answer['words']}”" for answer in facts.values_of(SelfReport.Kind.ANSWER)]
    sentences += [stop_sentence(stop, facts.client.zone) for stop in facts.stops]
    return sentences or [gettext("No further reports.")]


STRAIN_PLACES = Words(
    {
        "throat": gettext_noop("throat"),
        "jaw": gettext_noop("jaw"),
        "chest": gettext_noop("chest"),
        "belly": gettext_noop("belly"),
        "shoulders": gettext_noop("shoulders"),
    }
)


def _strain(facts: Facts) -> list[Any]:
    answers = facts.values_of(SelfReport.Kind.STRAIN)
    yes = [each.get("where", "") for each in answers if each["said"]]
    if yes:
        places = join_words(dict.fromkeys(STRAIN_PLACES[where] for where in yes if where))
        words = (
            gettext("Strain reported {yes} of {asked} times ({places}).")
            if places
            else gettext("Strain reported {yes} of {asked} times.")
        )
        return [words.format(yes=len(yes), asked=len(answers), places=places)]
    return (
        [gettext("No strain reported (asked {asked} times).").format(asked=len(answers))]
        if answers
        else []
    )


def _skipped_sentences(facts: Facts) -> list[str]:
    skipped = [each for each in facts.reports if each.kind == SelfReport.Kind.SKIPPED]
    if not skipped:
        return []
    catalogue = all_tasks(facts.client.clinic)
    return [
        gettext("{task}: skipped, “{value}”.").format(
            task=title_of(PrescribedRow(each.task, catalogue), note=note_name(each.task))
            if each.task
            else gettext("A task"),
            value=SKIPS[each.value],
        )
        for each in skipped
    ]


def _measurement_sentences(facts: Facts) -> list[str]:
    sentences = [_series(each) for each in facts.practised[:MOST_SERIES]]
    more = len(facts.practised) - MOST_SERIES
    if more > 0:
        sentences.append(
            ngettext(
                "{count} more task in the figures below.",
                "{count} more tasks in the figures below.",
                more,
            ).format(count=more)
        )
    return (sentences or [gettext("No measurements.")]) + _activity_sentences(facts)


def _activity_sentences(facts: Facts) -> list[str]:
    """Return sentences about unmeasured practice, task by task."""
    by_task = defaultdict(list)
    for each in reversed(facts.reported):
        by_task[each.title].append(each)
    found = []
    for title, days in by_task.items():
        heading = title
        if facts.session is None:
            heading = ngettext(
                "{title} on {count} day", "{title} on {count} days", len(days)
            ).format(title=title, count=len(days))
        last = " ".join(days[-1].done) or gettext("no sets counted.")
        felt = Counter(words for day in days for words in day.felt)
        felt_words = ", ".join(f"{words} {count}" for words, count in felt.most_common())
        found.append(f"{heading}: {last}{f' {felt_words}.' if felt_words else ''}")
    return found


def _measured_by_hours(facts: Facts) -> list[str]:
    return _measurement_sentences(facts) + hour_sentences(facts, facts.practised[:MOST_SERIES])


def _series(each: PracticePeriod) -> str:
    unit = each.series.figure.unit
    values = [value for row in each.within if (value := each.series.value_of(row)) is not None]
    count = len(each.within)
    tries = ngettext("{count} trial", "{count} trials", count).format(count=count)
    if not values:
        return gettext("{title}: {tries}, no measurements.").format(
            title=each.series.title, tries=tries
        )
    phrases = [
        gettext("{tries}, median {median:.1f} {unit}, best {values:.1f} {unit}").format(
            tries=tries, median=median(values), unit=unit, values=max(values)
        )
    ]
    judged = [row for row in each.within if row.outcome != Trial.Outcome.NOT_JUDGED]
    if judged:
        met = sum(row.outcome == Trial.Outcome.MET for row in judged)
        phrases.append(gettext("{met} of {judged} on target").format(met=met, judged=len(judged)))
    spreads = [row.spread_cents for row in each.within if row.spread_cents is not None]
    if spreads:
        phrases.append(gettext("spread {median:.0f} cents").format(median=median(spreads)))
    return f"{each.series.title}: {', '.join(phrases)}."


def _meaning(facts: Facts) -> list[str]:
    """Return the change, its comparison, and its consequence."""
    sentences = []
    for each in facts.practised[:MOST_SERIES]:
        course, figure = each.value.course, each.series.figure
        if course is None:
            continue
        change, unit = course.planned, figure.unit
        if change is None or course.week_mean is None:
            if course.week_mean is not None and course.first_mean is not None:
                sentences.append(_not_yet(each, course.week_mean, course.first_mean, unit))
            continue
        verdict, follows = _VERDICTS[_direction(course.week_mean, change, figure.better)]
        words = (
            gettext(
                "{title}: {verdict}. The 7-day mean is {plain} {unit}, {plain_2} {unit} "
                "compared with the first weeks. Minimal detectable change: {plain_3} "
                "{unit} (provisional). {follows}"
            )
            if change.is_provisional
            else gettext(
                "{title}: {verdict}. The 7-day mean is {plain} {unit}, {plain_2} {unit} "
                "compared with the first weeks. Minimal detectable change: {plain_3} "
                "{unit}. {follows}"
            )
        )
        line = words.format(
            title=each.series.title,
            verdict=verdict,
            plain=plain(course.week_mean, 1),
            unit=unit,
            plain_2=plain(change.by, 1, is_signed=True),
            plain_3=plain(change.limit, 1),
            follows=follows,
        )
        if course.trend:
            trend = f"{each.trend}; {each.mixed}" if each.mixed else each.trend
            line += " " + gettext("Trend: {trend}.").format(trend=trend)
        sentences.append(line)
    return sentences or [gettext("Too few measurements to assess change.")]


#: Verdict and consequence by direction of change.
_VERDICTS = Words(
    {
        "better": (gettext_noop("real improvement"), gettext_noop("The programme continues.")),
        "worse": (
            gettext_noop("real decline"),
            gettext_noop("Find the cause before you progress the programme."),
        ),
        "same": (
            gettext_noop("no real change"),
            gettext_noop("The difference is within day-to-day variation."),
        ),
    }
)


def _direction(week_mean: float, change: MeanChange, better: BetterDirection) -> str:
    if not change.is_real:
        return "same"
    if better is BetterDirection.NEARER:
        improved = abs(week_mean) < abs(week_mean - change.by)
    else:
        improved = (change.by > 0) == (better is BetterDirection.HIGHER)
    return "better" if improved else "worse"


def _not_yet(each: PracticePeriod, week: float, first: float, unit: str) -> str:
    """Return the known figures before a whole week follows the first days of a series."""
    return gettext(
        "{title}: too early to assess change. The 7-day mean is {plain} {unit}; "
        "the mean of the first weeks is {plain_2} {unit}. A comparison needs "
        "about 4 weeks of practice."
    ).format(title=each.series.title, plain=plain(week, 1), unit=unit, plain_2=plain(first, 1))


def _next(facts: Facts) -> list[str]:
    sentences = [_decided_words(each, facts.client) for each in facts.decisions]
    sentences += [gettext("Proposed: {words}").format(words=words) for words in facts.proposed]
    return [*sentences, *_programme(facts)]


def _decided_words(decision: Any, client: Any) -> str:
    """Return a decision: its step, the programme that it made, and its day."""
    words = (
        gettext("{step}, programme {version}, decided {day}.")
        if decision.created_version
        else gettext("{step}, decided {day}.")
    )
    return words.format(
        step=STEPS[Step(decision.step)],
        version=decision.created_version.version if decision.created_version else None,
        day=month_day(decision.decided_at.astimezone(client.zone)),
    )


def _programme(facts: Facts) -> list[str]:
    programme = facts.programme
    if programme is None:
        return [gettext("No programme.")]
    dose = programme.prescribed.dose if programme.prescribed else None
    values = {"version": programme.version}
    if dose is None:
        words = gettext("Programme {version} continues.")
    elif dose.kind is DoseKind.ON_DEMAND:
        words = gettext("Programme {version} continues, on demand.")
    else:
        values |= {"a_day": dose.a_day, "weekdays": len(dose.weekdays)}
        words = ngettext(
            "Programme {version} continues: {a_day}× a day, {weekdays} day a week.",
            "Programme {version} continues: {a_day}× a day, {weekdays} days a week.",
            len(dose.weekdays),
        )
    return [words.format(**values)]


def _course(facts: Facts) -> list[str]:
    count = len(facts.sessions)
    sentences = [
        ngettext(
            "{first} to {last}: {count} session.", "{first} to {last}: {count} sessions.", count
        ).format(first=date_format(facts.first), last=date_format(facts.last), count=count)
    ]
    if facts.kept is not None:
        sentences.append(
            gettext("{due} sessions were due; adherence {kept:.0%}.").format(
                due=facts.due, kept=facts.kept
            )
        )
    left = sum(each.ending == Session.Ending.LEFT for each in facts.sessions)
    stopped = sum(each.ending == Session.Ending.STOPPED for each in facts.sessions)
    if left or stopped:
        sentences.append(
            gettext("{left} ended early, {stopped} stopped.").format(left=left, stopped=stopped)
        )
    return [*sentences, *_report_sentences(facts)]


def _goals(facts: Facts) -> list[str]:
    sentences = (
        [gettext("In the client’s words: “{goals}”").format(goals=facts.client.goals)]
        if facts.client.goals
        else []
    )
    for target in facts.client.targets.filter(kind="hold").order_by("-decided_at")[:1]:
        if (target.values or {}).get("goal_s"):
            sentences.append(
                gettext("Hold goal: {goal_s:g} s.").format(goal_s=target.values["goal_s"])
            )
    return sentences or [gettext("No goal on record.")]


def _first_and_last(facts: Facts) -> list[str]:
    return [
        gettext(
            "{title}, in {unit}: {baseline} in the first three sessions, {week} in "
            "the last seven days, best {best}."
        ).format(
            title=each.series.title,
            unit=each.series.figure.unit,
            baseline=each.value.baseline,
            week=each.value.week,
            best=each.value.best,
        )
        for each in facts.practised[:MOST_SERIES]
    ] or [gettext("No measurements.")]


def _outcome(facts: Facts) -> list[str]:
    sentences = _meaning(facts)
    for target in facts.client.targets.filter(kind="hold").order_by("-decided_at")[:1]:
        goal = (target.values or {}).get("goal_s")
        bests = [
            course.best
            for each in facts.practised
            if kind_of(each.series.measure).can_be_steady
            and (course := each.value.course)
            and course.best is not None
        ]
        if goal and bests:
            reached = "reached" if max(bests) >= goal else gettext("not reached")
            sentences.append(
                gettext("Longest hold {bests:.1f} s; goal of {goal:g} s {reached}.").format(
                    bests=max(bests), goal=goal, reached=reached
                )
            )
    return sentences


def _question(facts: Facts) -> list[str]:
    client = facts.client
    sentences = (
        [gettext("Referred for: {referral_reason}").format(referral_reason=client.referral_reason)]
        if client.referral_reason
        else []
    )
    if client.laryngeal_finding:
        on = f" ({full_day(client.examined_on)})" if client.examined_on else ""
        sentences.append(
            gettext("Last finding{on}: {laryngeal_finding}").format(
                on=on, laryngeal_finding=client.laryngeal_finding
            )
        )
    return sentences or [gettext("The referral question is not on record. Enter it here.")]


_MAKERS = {
    ClinicalNote.Kind.SESSION: {
        "said": _report_sentences, "measured": _measurement_sentences,
        "meaning": _meaning, "next": _next,
    },
    ClinicalNote.Kind.PROGRESS: {
        "course": _course, "measured": _measurement_sentences, "meaning": _meaning, "next": _next,
    },
    ClinicalNote.Kind.DISCHARGE: {
        "goals": _goals, "course": _course, "measured": _first_and_last, "outcome": _outcome,
        "next": _programme,
    },
    ClinicalNote.Kind.SPECIALIST: {
        "question": _question, "course": _course, "measured": _measured_by_hours,
        "meaning": _meaning,
    },
}  # fmt: skip


#: The client's answer to “How is your voice today?”, as a note has it.
_VOICES = Words(
    {
        Voice.AS_USUAL: gettext_noop("as usual"),
        Voice.TIRED: gettext_noop("tired or dry"),
        Voice.HOARSE: gettext_noop("hoarse"),
        Voice.ILL: gettext_noop("ill"),
    }
)


def _voice_words(code: str) -> str:
    return _VOICES[Voice(code)]
