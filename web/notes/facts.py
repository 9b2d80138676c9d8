"""Facts about a period that a note or a report may state."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date, datetime, time, timedelta
from typing import TYPE_CHECKING, Any
from zoneinfo import ZoneInfo

from django.db.models import Q
from django.utils import timezone

from reedcore.dose.adherence import adherence
from reedcore.history import TrialRecord
from reedcore.history.dues import slots_between
from web.catalogue.queries import all_tasks
from web.decisions.client_status import proposal_from, statuses
from web.decisions.wording import proposal_words
from web.record.history import practice_of
from web.record.models import Decision, ProgrammeVersion, SelfReport, Session
from web.results import figures
from web.results.page import efforts_of
from web.results.self_reports import ReportedDay, reports_between
from web.results.series import SeriesShown, series_of, trials_of

if TYPE_CHECKING:
    from web.clients.models import Client


@dataclass(frozen=True)
class PracticePeriod:
    """A series: its trials in the period, and its state at the end."""

    series: SeriesShown
    within: list[TrialRecord]
    lines: list[figures.FigureLine]
    trend: str
    mixed: str

    @property
    def value(self) -> figures.FigureLine:
        """Return the line of the series' figure."""
        return self.lines[0]


@dataclass(frozen=True)
class Facts:
    """Facts of a period; shares and means are None if there was nothing to compute them from."""

    client: Client
    first: date
    last: date
    session: Session | None
    sessions: list[Session]
    reports: list[SelfReport]
    practised: list[PracticePeriod]
    due: int
    kept: float | None
    programme: ProgrammeVersion | None
    decisions: list[Decision] = field(default_factory=list)
    proposed: list[str] = field(default_factory=list)
    reported: list[ReportedDay] = field(default_factory=list)
    stops: list = field(default_factory=list)

    def values_of(self, kind: str) -> list:
        """Return the values of one kind of report in order of time."""
        return [report.value for report in self.reports if report.kind == kind]


def facts_of(client: Client, *, first: date, last: date, session: Session | None = None) -> Facts:
    """Return the facts of these days, both included, or of one session within them."""
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
    until = min(last + timedelta(days=1), timezone.now().astimezone(zone).date())
    due, slots = slots_between(practice_of(client, since=begins), first, until)
    status = statuses([client], now=timezone.now())[client.pk]
    return Facts(
        client=client,
        first=first,
        last=last,
        session=session,
        sessions=sessions,
        reports=list(reports.select_related("task").order_by("said_at", "key")),
        practised=_practised_sessions(client, begins, ends, last, zone, session),
        due=due,
        kept=adherence(slots),
        programme=client.programmes.filter(published_at__lt=ends, withdrawn_at=None)
        .order_by("-version")
        .first(),
        decisions=list(
            client.decisions.filter(
                accepted=True, undone_at=None, decided_at__gte=begins, decided_at__lt=ends
            )
            .select_related("created_version", "task")
            .order_by("decided_at")
        ),
        proposed=[
            f"{each['title']}: {proposal_words(proposal_from(each))}" for each in status.proposed
        ],
        reported=reports_between(
            client, all_tasks(client.clinic), first=first, last=last, session=session
        ),
        # Those of the period, and earlier ones still open.
        stops=list(
            client.stops.filter(
                Q(said_at__gte=begins) | Q(cleared_by=None), said_at__lt=ends
            ).order_by("said_at")
        ),
    )


def _practised_sessions(
    client: Client,
    begins: datetime,
    ends: datetime,
    last: date,
    zone: ZoneInfo,
    session: Session | None,
) -> list[Any]:
    found = []
    every = series_of(client, all_tasks(client.clinic))
    read = trials_of(client, every)
    efforts = efforts_of(client, every, zone)
    for series in every:
        so_far = [row for row in read if row.task in series.targets and row.at < ends]
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
            if task in series.targets and day <= last
        ]
        lines = figures.lines_of(series, so_far, own, today=last, is_planned=True)
        course = lines[0].course
        found.append(
            PracticePeriod(
                series=series,
                within=within,
                lines=lines,
                trend=figures.trend_words(course, series.figure.unit),
                mixed=figures.mixed_words(so_far),
            )
        )
    return found
