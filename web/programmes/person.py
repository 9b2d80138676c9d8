"""Who a programme is for, as the check sees them: the record, the newest baseline, the bests."""

from math import isfinite

from django.db.models import Count, Max
from django.utils import timezone

from reedcore.checks import Person
from reedcore.devices.levels import TOLD_AT_M
from reedcore.safety import larynx_seen
from web.clients.derived import derived
from web.clients.queries import newest_screen
from web.sound.queries import sound_pressure

from .models import PrescribedTask


def person_of(client) -> tuple[Person, object]:
    """What the record and the newest baseline say, and what that baseline came to (or None)."""
    sheet = client.baselines.select_related("client__clinic").first()
    found = derived(sheet, list(sheet.trials.all())) if sheet else None
    today = timezone.localdate()
    person = Person(
        screened=newest_screen(client) is not None,
        larynx_seen=larynx_seen(client.safety_case()),
        cautions=client.caution_codes,
        forbidden=client.forbidden(on=today),
        comfortable=found.comfortable_range if found else None,
        held=found.held_range if found else None,
        props=frozenset(client.props) if client.props else None,
        comfortable_db_spl=_comfortable_db_spl(client, found, today),
        a4_hz=client.clinic.a4_hz,
    )
    return person, found


def _comfortable_db_spl(client, found, today):
    """At 30 cm, where the device that took the baseline is calibrated."""
    if found is None or found.comfortable_level is None:
        return None
    level = sound_pressure(client.clinic, found.comfortable_level, on=today)
    return level.at(TOLD_AT_M).db_spl if level else None


#: The measures for which a baseline knows a best, whatever the task.
HOLD, HISS = "hold", "hiss"
#: So many tries of a task since the baseline say more of it than the baseline does.
ENOUGH_TRIES = 4


def bests(client, found) -> dict[str, float]:
    """The client's best seconds: by task code where it was practised since the baseline, and by
    measure what the baseline says of every other held voice and hiss."""
    best = {}
    for measure, longest in (
        (HOLD, found.longest_vowel if found else None),
        (HISS, found.longest_s if found else None),
    ):
        if longest is not None and isfinite(longest.seconds):
            best[measure] = longest.seconds
    tried = PrescribedTask.objects.filter(
        programme__client=client, measure__in=(HOLD, HISS), trials__total_s__isnull=False
    ).exclude(task_code="")
    if found is not None:
        tried = tried.filter(trials__performed_at__date__gte=found.on)
    for code, longest, tries in tried.values_list("task_code").annotate(
        Max("trials__total_s"), Count("trials")
    ):
        if tries >= ENOUGH_TRIES:
            best[code] = longest
    return best
