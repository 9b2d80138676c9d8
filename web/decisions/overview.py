"""Figures of a whole clinic for its lead: counts, never a ranking of people."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta
from statistics import median
from typing import TYPE_CHECKING

from django.db.models import OuterRef, Subquery
from django.utils import timezone
from django.utils.translation import gettext

from reedcore.decisions import Need, Step
from reedcore.formats.table_csv import column
from web.accounts.models import Clinic
from web.programmes.wording import SCHOOLS, SORTS
from web.record.models import Decision, ProgrammeVersion
from web.screening.models import Stop

from .client_status import statuses
from .wording import NEEDS

if TYPE_CHECKING:
    from .models import ClientStatus

#: Days of stops, and of programmes that reached their goal.
STOPS_FOR, GOALS_FOR = timedelta(days=28), timedelta(days=365)
#: Lower limits of the groups of adherence, as shares (conventions).
GOOD, SOME = 0.8, 0.5


@dataclass(frozen=True)
class OverviewRow:
    """One figure of the overview. None means unknown."""

    section: str = column("part of the overview")
    name: str = column("clinician, group or measure")
    group: str = column("need, range of adherence or unit")
    value: float | None = column("number of clients, stops or days")


@dataclass(frozen=True)
class Caseload:
    """A clinician's active clients by need, in the order of the board."""

    name: str
    counts: tuple[int, ...]

    @property
    def total(self) -> int:
        """Return the number of active clients."""
        return sum(self.counts)


@dataclass(frozen=True)
class StopFigures:
    """Stops of the last four weeks."""

    reported: int
    open: int
    #: Median hours from arrival to a clinician's decision.
    hours: float | None


@dataclass(frozen=True)
class Overview:
    """The figures of a clinic on one day."""

    needs: tuple[str, ...]
    caseloads: tuple[Caseload, ...]
    adherence: tuple[tuple[str, int], ...]
    programmes: tuple[tuple[str, int], ...]
    stops: StopFigures
    #: Programmes that reached their goal in a year, and the median days from their first version.
    goals: int
    days_to_goal: float | None

    def rows(self) -> Iterable[OverviewRow]:
        """Yield every figure as a row of the file."""
        for each in self.caseloads:
            for need, count in zip(self.needs, each.counts, strict=True):
                yield OverviewRow("caseload", each.name, need, count)
        for group, count in self.adherence:
            yield OverviewRow("adherence", "14 days", group, count)
        for group, count in self.programmes:
            yield OverviewRow("programmes in force", group, "", count)
        yield OverviewRow("stops", "28 days", "reported", self.stops.reported)
        yield OverviewRow("stops", "28 days", "open", self.stops.open)
        yield OverviewRow("stops", "28 days", "median hours to a decision", self.stops.hours)
        yield OverviewRow("goals", "365 days", "reached", self.goals)
        yield OverviewRow("goals", "365 days", "median days to the goal", self.days_to_goal)


def overview_of(clinic: Clinic) -> Overview:
    """Return the figures of a clinic's active clients."""
    now = timezone.now()
    clients = list(
        clinic.clients.filter(archived_at=None).select_related("clinic", "clinician").order_by("pk")
    )
    known = statuses(clients, now=now)
    goals = _days_to_goals(clinic, since=now - GOALS_FOR)
    return Overview(
        needs=tuple(str(name) for name in NEEDS.values()),
        caseloads=_caseloads(clients, known),
        adherence=_adherence(known.values()),
        programmes=_programmes(clinic),
        stops=_stops(clinic, since=now - STOPS_FOR),
        goals=len(goals),
        days_to_goal=median(goals) if goals else None,
    )


def _caseloads(clients: Iterable, known: dict[int, ClientStatus]) -> tuple[Caseload, ...]:
    names: dict[int | None, str] = {}
    needs: dict[int | None, Counter[Need]] = defaultdict(Counter)
    for client in clients:
        key, clinician = client.clinician_id, client.clinician
        names[key] = clinician.get_full_name() if clinician else gettext("no clinician")
        needs[key][known[client.pk].board_need] += 1
    caseloads = [
        Caseload(names[key], tuple(counts[need] for need in NEEDS)) for key, counts in needs.items()
    ]
    return tuple(sorted(caseloads, key=lambda each: each.name.casefold()))


def _adherence(known: Iterable[ClientStatus]) -> tuple[tuple[str, int], ...]:
    names = (
        gettext("80% or more"),
        gettext("50 to 79%"),
        gettext("under 50%"),
        gettext("nothing due"),
        gettext("not known"),
    )
    counts = Counter(_adherence_group(each) for each in known)
    return tuple((name, counts[group]) for group, name in enumerate(names))


def _adherence_group(status: ClientStatus) -> int:
    if status.fault:
        return 4
    share = status.fortnight["adherence"]
    if share is None:
        return 3
    return 0 if share >= GOOD else 1 if share >= SOME else 2


def _programmes(clinic: Clinic) -> tuple[tuple[str, int], ...]:
    newest = ProgrammeVersion.objects.filter(client=OuterRef("client"), withdrawn_at=None)
    in_force = ProgrammeVersion.objects.filter(
        client__clinic=clinic,
        client__archived_at=None,
        version=Subquery(newest.order_by("-version").values("version")[:1]),
    )
    counts: Counter[str] = Counter()
    for document in in_force.values_list("document", flat=True):
        counts[_programme_name(document)] += 1
    return tuple(sorted(counts.items()))


def _programme_name(document: dict) -> str:
    if not document:
        return gettext("one held sound")
    kind = SORTS.get(document.get("sort", "full"), "")
    approach = SCHOOLS.get(document.get("school", ""), "")
    return ", ".join(str(each) for each in (kind, approach) if each)


def _stops(clinic: Clinic, *, since: datetime) -> StopFigures:
    found = Stop.objects.filter(client__clinic=clinic, received_at__gte=since)
    hours = [
        (cleared - received).total_seconds() / 3600
        for received, cleared in found.filter(cleared_at__isnull=False).values_list(
            "received_at", "cleared_at"
        )
        if cleared
    ]
    return StopFigures(
        reported=found.count(),
        open=found.filter(cleared_at=None).count(),
        hours=median(hours) if hours else None,
    )


def _days_to_goals(clinic: Clinic, *, since: datetime) -> list[float]:
    """Return for each taper begun since then the days from the client's first version."""
    first = ProgrammeVersion.objects.filter(client=OuterRef("client")).order_by("version")
    begun = Decision.objects.filter(
        client__clinic=clinic, step=Step.START_TAPER.value, accepted=True, undone_at=None,
        decided_at__gte=since,
    )  # fmt: skip
    moments = begun.annotate(first=Subquery(first.values("published_at")[:1]))
    return [
        (decided - published).total_seconds() / 86400
        for decided, published in moments.values_list("decided_at", "first")
        if published is not None
    ]
