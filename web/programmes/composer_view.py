"""The programme check of a prescription for this client.

Every way to prescribe asks here, and so does a change of the record under a programme in force.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from reedcore.checks import OF_ALL, Finding, Person, Plan, Severity, check_all
from reedcore.programme.plan import plans_of, single_sound_plan
from reedcore.programme.programme import MAIN, Programme
from reedcore.programme.strands import Strand
from web.record.client_context import bests, person_of
from web.record.models import PrescribedTask, ProgrammeVersion
from web.record.programmes import in_force_week_ago, load_prescribed_item

if TYPE_CHECKING:
    from reedcore.catalogue.tasks import Task
    from web.clients.models import Client

#: For these codes a reason expires when the recorded fact changes.
_LAPSES = {"larynx_not_seen": lambda client: f"{client.complaint}/{client.voice_changed_on}"}


@dataclass(frozen=True)
class ComposerView:
    """The programmes in force together, with the findings of the check.

    Attributes:
        plans: the programmes that are in force together, the main one first.
        keys: by finding, in its order, the key under which a written reason overrules it.
        of: the programme that it is about.
    """

    plans: tuple[tuple[Strand, Plan], ...]
    person: Person
    findings: tuple[Finding, ...]
    keys: tuple[str, ...]
    of: tuple[str, ...]

    def open_stops(self, overrules: Mapping[str, Any]) -> list[Finding]:
        """Return the stops without a written reason of their own."""
        return [
            each
            for each, key in zip(self.findings, self.keys, strict=True)
            if each.level is Severity.STOP and not str(overrules.get(key, "")).strip()
        ]


def second_look(
    client: Client, programme: Programme, tasks: dict[str, Task], *, at: Any = None
) -> ComposerView:
    """Check a whole programme."""
    person, found = person_of(client)
    best = bests(client, found)
    before = in_force_week_ago(client, tasks, at=at)
    plans = plans_of(
        programme,
        tasks,
        best=best,
        before=before.seconds,
        cautions=person.cautions,
        before_cmh2o=before.loads.cmh2o,
        before_loud_s=before.loads.loud_s,
    )
    return _check_plans(client, plans, person)


def second_look_at_one(client: Client, task: PrescribedTask, *, at: Any = None) -> ComposerView:
    """Check a single held sound."""
    person, found = person_of(client)
    best = bests(client, found)
    before = in_force_week_ago(client, {}, at=at).seconds
    plan = single_sound_plan(load_prescribed_item(task, {}), best=best, before=before)
    return _check_plans(client, ((Strand(MAIN, Programme(plan.dose)), plan),), person)


def recheck(version: ProgrammeVersion, tasks: dict[str, Task]) -> ComposerView:
    """Check a version in force against the current record."""
    if version.prescribed:
        return second_look(version.client, version.prescribed, tasks)
    return second_look_at_one(version.client, version.tasks.get())


def _check_plans(client: Client, plans: tuple[Any, ...], person: Person) -> ComposerView:
    named = [(strand.id, plan) for strand, plan in plans]
    found = check_all(named, person)
    keys = tuple(_key(each, client, name) for name, each in found)
    findings = tuple(each for _, each in found)
    return ComposerView(tuple(plans), person, findings, keys, tuple(name for name, _ in found))


def _key(finding: Any, client: Client, strand: str = MAIN) -> str:
    """Return the key of a finding about a task; it includes the recorded fact if that is the
    cause."""
    about = finding.item or (f"of-{strand}" if strand and finding.code not in OF_ALL else "")
    key = f"{finding.code}:{about}"
    if finding.about:
        return f"{key}:{finding.about}@{client.caution_stamp(finding.about)}"
    if finding.code in _LAPSES:
        return f"{key}@{_LAPSES[finding.code](client)}"
    return key


def reason_before(overrules: Mapping[str, Any], key: str) -> str:
    """Return the reason given for the same finding before the record changed, as a starting
    text."""
    alike = key.split("@")[0]
    older = alike.rsplit(":", 1)[0] if alike.count(":") > 1 else alike
    reasons = [
        words
        for each, words in overrules.items()
        if each != key and each.split("@")[0] in (alike, older)
    ]
    return reasons[-1] if reasons else ""
