"""The client as the programme check sees them: record, newest baseline, bests."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from datetime import date, timedelta
from math import isfinite
from typing import TYPE_CHECKING, Any

from django.utils import timezone

from reedcore.baseline import best_hold_s
from reedcore.baseline.goals import BEST_DAYS
from reedcore.catalogue.tasks import Task
from reedcore.checks import Person
from reedcore.devices.levels import TOLD_AT_M
from reedcore.measures import measures_with
from reedcore.pitch.note_sets import USUAL_SETS
from reedcore.programme.programme import Item
from reedcore.safety import larynx_seen
from web.baseline.queries import targets_in_force
from web.baseline.summaries import summary_of
from web.screening.queries import newest_screen
from web.sound.queries import sound_pressure

from .models import PrescribedTask

if TYPE_CHECKING:
    from reedcore.baseline.sheet import BaselineSummary
    from reedcore.pitch.notes import Note
    from web.clients.models import Client


def person_of(client: Client) -> tuple[Person, object]:
    """Return the client from the record and the newest baseline, and the summary of that baseline
    (or None)."""
    found = newest_summary(client)
    today = timezone.localdate()
    screen = newest_screen(client)
    person = Person(
        is_screened=screen is not None,
        cautions_not_asked=screen.cautions_not_asked if screen else frozenset(),
        has_adult_helper=bool(client.grown_up) or client.helpers.filter(ended_at=None).exists(),
        middle=_middle(client.voice),
        has_larynx_exam=larynx_seen(client.safety_case()),
        cautions=client.caution_codes,
        forbidden=client.forbidden(on=today),
        comfortable=found.comfortable_range if found else None,
        held=found.held_range if found else None,
        props=frozenset(client.props) if client.props else None,
        comfortable_db_spl=_comfortable_db_spl(client, found, today),
        a4_hz=client.clinic.a4_hz,
    )
    return person, found


def newest_summary(client: Client) -> BaselineSummary | None:
    """Return the summary of the newest baseline; None without one."""
    sheet = client.baselines.select_related("client__clinic").first()
    return summary_of(sheet) if sheet else None


def _middle(voice: Any) -> Note | None:
    """Return the middle note of the usual set; None for the client's own range."""
    usual = USUAL_SETS.get(voice)
    return usual.power[len(usual.power) // 2] if usual else None


def _comfortable_db_spl(client: Client, found: BaselineSummary | None, today: date) -> float | None:
    """Return the comfortable level at 30 cm if the baseline's device is calibrated."""
    if found is None or found.comfortable_level is None:
        return None
    level = sound_pressure(client.clinic, found.comfortable_level, on=today)
    return level.at_distance(TOLD_AT_M).db_spl if level else None


#: Measures for which a baseline defines a best result.
HOLD, HISS = "hold", "hiss"
#: With this many trials since the baseline, the trials count instead of the baseline.
ENOUGH_TRIES = 4


def bests(client: Client, found: Any) -> dict[str, float]:
    """Return the client's best seconds: by task code if practised in the last fortnight and since
    the baseline, and by measure from the baseline for all other held voices and hisses."""
    best = {}
    for measure, longest in (
        (HOLD, found.longest_vowel if found else None),
        (HISS, found.longest_s if found else None),
    ):
        if longest is not None and isfinite(longest.seconds):
            best[measure] = longest.seconds
    since = timezone.now() - timedelta(days=BEST_DAYS + 1)
    # One query: separate conditions on trials could match different trials.
    conditions: dict[str, Any] = {
        "trials__total_s__isnull": False,
        "trials__performed_at__gte": since,
        "trials__set_aside": "",
    }
    if found is not None:
        conditions["trials__performed_at__date__gte"] = found.on
    tried = PrescribedTask.objects.filter(
        programme__client=client, measure__in=measures_with("is_in_seconds"), **conditions
    ).exclude(task_code="")
    holds: dict[str, list[tuple[date, float]]] = defaultdict(list)
    for code, at, seconds in tried.values_list(
        "task_code", "trials__performed_at", "trials__total_s"
    ):
        if seconds is not None:
            holds[code].append((at.astimezone(client.zone).date(), seconds))
    today = timezone.now().astimezone(client.zone).date()
    for code, held in holds.items():
        longest = best_hold_s(held, on=today)
        if longest is not None and len(held) >= ENOUGH_TRIES:
            best[code] = longest
    return best


def own_reach(
    client: Client, item: Item, tasks: Mapping[str, Task]
) -> tuple[float | None, float | None]:
    """Return the client's best at an item's task, and the goal of their holds; None if unknown."""
    task = tasks[item.task]
    _, found = person_of(client)
    known = bests(client, found)
    target = targets_in_force(client).get("hold")
    goal = target.values.get("goal_s") if target else None
    return known.get(task.code, known.get(task.measure)), goal
