"""What happened in a stretch of time: everything that a note or a report may say."""

from collections import defaultdict
from dataclasses import dataclass, field
from datetime import date, datetime, time, timedelta

from django.utils import timezone

from reedcore.dose.adherence import adherence
from web.catalogue.queries import every_task
from web.decisions.cases import due_by_doses, pauses_of, slots_of_day
from web.decisions.client_status import proposal_from, statuses
from web.decisions.history import sessions_since
from web.decisions.models import Decision
from web.decisions.wording import proposal_words
from web.practice.models import SelfReport, Session
from web.programmes.models import Programme
from web.results import figures
from web.results.page import efforts_of
from web.results.series import Row, Series, rows_of, series_of


@dataclass(frozen=True)
class Practised:
    """One series: its trials within the time, and how it stood at the end of it."""

    series: Series
    within: list[Row]
    lines: list[figures.Line]
    trend: str
    mixed: str

    @property
    def value(self) -> figures.Line:
        """The line of what the series is about."""
        return self.lines[0]


@dataclass(frozen=True)
class Facts:
    """What is known; shares and means are None where there was nothing to take them of."""

    client: object
    first: date
    last: date
    session: Session | None
    sessions: list[Session]
    reports: list[SelfReport]
    practised: list[Practised]
    due: int
    kept: float | None
    programme: Programme | None
    decisions: list[Decision] = field(default_factory=list)
    proposed: list[str] = field(default_factory=list)
    stops: list = field(default_factory=list)

    def said(self, kind: str) -> list:
        """The values of one kind of report, in the order they were said."""
        return [report.value for report in self.reports if report.kind == kind]


def facts_of(client, *, first: date, last: date, session: Session | None = None) -> Facts:
    """The facts of these days, both included, or of one session within them."""
    zone = client.zone
    begins = datetime.combine(first, time(), zone)
    ends = datetime.combine(last + timedelta(days=1), time(), zone)
    sessions = list(
        client.sessions.filter(begun_at__gte=begins, begun_at__lt=ends).select_related("programme")
    )
    if session is not None:
        sessions = [session]
    reports = SelfReport.objects.filter(client=client, said_at__gte=begins, said_at__lt=ends)
    if session is not None:
        reports = reports.filter(session=session)
    versions = list(
        client.programmes.filter(published_at__lt=ends, withdrawn_at=None)
        .order_by("version")
        .values_list("published_at", "document__dose")
    )
    doses = [(at.astimezone(zone).date(), dose) for at, dose in versions]
    due, kept = _kept(client, doses, first, last, zone)
    status = statuses([client], now=timezone.now())[client.pk]
    return Facts(
        client=client,
        first=first,
        last=last,
        session=session,
        sessions=sessions,
        reports=list(reports.select_related("task").order_by("said_at", "key")),
        practised=_practised(client, begins, ends, last, zone, session),
        due=due,
        kept=kept,
        programme=client.programmes.filter(published_at__lt=ends, withdrawn_at=None)
        .order_by("-version")
        .first(),
        decisions=list(
            client.decisions.filter(
                accepted=True, undone_at=None, decided_at__gte=begins, decided_at__lt=ends
            )
            .select_related("made", "task")
            .order_by("decided_at")
        ),
        proposed=[
            f"{each['title']}: {proposal_words(proposal_from(each))}" for each in status.proposed
        ],
        stops=list(client.stops.filter(said_at__gte=begins, said_at__lt=ends).order_by("said_at")),
    )


def _kept(client, doses, first, last, zone):
    """Sessions that were due in the days up to yesterday, and how much of them was done."""
    until = min(last + timedelta(days=1), timezone.now().astimezone(zone).date())
    pauses = pauses_of(client.stops.filter(pauses=True), zone, until)
    due = {day: count for day, count in due_by_doses(doses, until, pauses).items() if day >= first}
    done = defaultdict(list)
    since = datetime.combine(first, time(), zone)
    for each in sessions_since([client.pk], since, {client.pk: zone}):
        if each.sort != "extra":
            done[each.on].append(each)
    slots = [slot for day, count in due.items() for slot in slots_of_day(done[day], count)]
    return sum(due.values()), adherence(slots)


def _practised(client, begins, ends, last, zone, session):
    found = []
    every = series_of(client, every_task(client.clinic))
    read = rows_of(client, every)
    efforts = efforts_of(client, every, zone)
    for series in every:
        so_far = [row for row in read if row.task in series.asked and row.at < ends]
        within = [
            row
            for row in so_far
            if row.at >= begins and (session is None or row.session == session.pk)
        ]
        if not within:
            continue
        own = [
            (key, day, value)
            for task, key, day, value in efforts
            if task in series.asked and day <= last
        ]
        lines = figures.lines_of(series, so_far, own, today=last, zone=zone)
        course = lines[0].course
        found.append(
            Practised(
                series=series,
                within=within,
                lines=lines,
                trend=figures.trend_words(course, series.figure.unit),
                mixed=figures.mixed_hours(so_far),
            )
        )
    return found
