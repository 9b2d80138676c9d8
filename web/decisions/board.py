"""The board: clients by need, each with the reason and the last fortnight."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass, field
from datetime import date, datetime, timedelta
from hashlib import sha256
from typing import TYPE_CHECKING, Any

from django.core.cache import cache
from django.db.models import OuterRef, Subquery
from django.template.loader import render_to_string
from django.utils.formats import date_format
from django.utils.translation import gettext, ngettext

from reedcore.decisions import Need, Step
from reedcore.decisions.of_history import RUNGS
from reedcore.history.dues import FORTNIGHT
from reedcore.programme.swap import substitute_for
from web.catalogue.queries import all_tasks
from web.clients.models import Client
from web.record.conversation import waiting_words
from web.record.models import Decision, ProgrammeVersion, Trial
from web.screening.models import Stop
from web.screening.shown_stops import reasons_of
from web.screening.wording import delivery_words
from web.ui.dates import short_day
from web.ui.reeds import Scale, small_stem, water_steps

from .client_status import brief_statuses, kept_statuses, proposal_from
from .models import ClientStatus
from .proposing_steps import title_of_whole
from .wording import KEYS, NEEDS, reason_of

if TYPE_CHECKING:
    from web.accounts.models import Clinic, User
    from web.record.conversation import Entry

WIDTH, HEIGHT = 336, 68
#: Choices of the filter besides single clinicians: clients shared with the user, and covered ones.
SHARED, COVERED = "shared", "covered"
GROUND, TOP = 46, 6
_DAY = WIDTH / FORTNIGHT
#: A cached line is at most one day old.
DRAWN_FOR_S = 24 * 3600


@dataclass(frozen=True)
class SmallReed:
    """All the stems of one verdict."""

    path: str
    state: str


@dataclass(frozen=True)
class BoardRow:
    """A fortnight as a row of reeds; each row has its own scale, stated in its title."""

    water: str
    surface: str
    reeds: list[SmallReed]
    missed: str
    spoken: str
    #: (x, weekday letter) of each day.
    weekdays: list[tuple[str, str]] = field(default_factory=list)


def _no_row() -> BoardRow:
    return BoardRow("", "", [], "", gettext("not known"))


@dataclass(frozen=True)
class BoardLine:
    """A client's line on the board."""

    client: Client
    status: ClientStatus
    need: Need
    reason: str
    more: int
    row: BoardRow
    key: str = ""
    action: str = ""
    small: str = ""
    task: int | None = None
    step: str = ""
    #: The proposal can be left with a reason; a red flag stays open.
    may_wait: bool = True

    @property
    def shown(self) -> str:
        """Return the step that its keys decide about, and its task if there is one."""
        return f"{self.step} {self.task or ''}".strip()


@dataclass(frozen=True)
class PlacedLine:
    """A line of the board with its position; ``client`` is the client's key."""

    need: Need
    name: str
    client: int
    html: str


@dataclass(frozen=True)
class Group:
    """Clients of one need."""

    name: str
    code: str
    lines: list[PlacedLine]


def lines_for(
    user: User, *, now: Any, clinician: Any = None, school: str = "", diagnosis: str = ""
) -> list[PlacedLine]:
    """Return the lines of the board, the most pressing first, then by name.

    A line is rendered once each time its status is computed, and does not depend on the
    user who looks at it: what its keys send goes with the board's own form.
    """
    clients = user.visible_clients().filter(archived_at=None).select_related("clinic")
    if clinician == SHARED:
        clients = clients.filter(shared_with=user)
    elif clinician == COVERED:
        clients = clients.filter(clinician__in=user.covered_colleagues())
    elif clinician:
        clients = clients.filter(clinician=clinician)
    if diagnosis:
        clients = clients.filter(diagnosis=diagnosis)
    # Load only what a line shows: the board is open all day.
    shown = ("name", "occupation", "time_zone", "voice_rest_until", "clinic__time_zone")
    found = list(clients.only(*shown))
    brief = brief_statuses(found, now=now)
    if school:
        found = [client for client in found if brief[client.pk].school == school]
    drawn = _rendered_lines(found, brief, user.clinic, waiting_words(found, now=now))
    placed = [
        PlacedLine(brief[client.pk].board_need, client.name, client.pk, drawn[client.pk])
        for client in found
    ]
    return sorted(placed, key=lambda line: (line.need, line.name))


def _rendered_lines(
    clients: list[Any], brief: Any, clinic: Clinic, words: dict[int, Entry]
) -> dict[int, str]:
    """Return each client's line as HTML, by their key; draw those that are not cached."""
    names = {
        client.pk: _name_of(client, brief[client.pk], words.get(client.pk)) for client in clients
    }
    kept = cache.get_many(names.values())
    missing = [client for client in clients if names[client.pk] not in kept]
    if missing:
        full, catalogue = kept_statuses(missing), all_tasks(clinic)
        fresh = {
            names[client.pk]: render_to_string(
                "decisions/_line.html",
                {
                    "line": line_of(client, full[client.pk], catalogue),
                    "words": words.get(client.pk),
                    "refusal_reasons": Decision.RefusalReason.choices,
                },
            )
            for client in missing
        }
        cache.set_many(fresh, timeout=DRAWN_FOR_S)
        kept |= fresh
    return {pk: kept[name] for pk, name in names.items()}


def _name_of(client: Client, status: ClientStatus, words: Entry | None) -> str:
    """Return the cache key of a line, made of everything on it."""
    moment = status.computed_at and status.computed_at.timestamp()
    content = f"{client.pk}|{moment}|{status.fault}|{client.name}|{client.occupation}"
    content += f"|{client.voice_rest_until}|{words and words.at}"
    return f"board-line-{sha256(content.encode()).hexdigest()}"


def undelivered_stops(user: User) -> list[tuple[Stop, str]]:
    """Return the stops that no email has delivered yet, with the reason: the board is the
    second way to see them."""
    waiting = Stop.objects.filter(
        client__in=user.visible_clients(), needs_alert=True, delivered_at=None, cleared_at=None
    )
    return [(stop, delivery_words(stop)) for stop in waiting.select_related("client")]


def forbidden_programmes(user: User) -> list[ProgrammeVersion]:
    """Return the programmes in force that contain a task forbidden by the current record."""
    newest = ProgrammeVersion.objects.filter(client=OuterRef("client"), withdrawn_at=None)
    found = ProgrammeVersion.objects.filter(
        client__in=user.visible_clients().filter(archived_at=None),
        version=Subquery(newest.order_by("-version").values("version")[:1]),
    ).exclude(concerns=[])
    return list(found.select_related("client").order_by("client__name"))


def group_by_need(lines: list[PlacedLine]) -> list[Group]:
    """Return the lines under the name of their need; an empty need is left out."""
    groups = []
    for need, name in NEEDS.items():
        of_it = [line for line in lines if line.need == need]
        if of_it:
            groups.append(Group(name, need.name.lower(), of_it))
    return groups


def line_of(client: Client, status: Any, catalogue: Any) -> BoardLine:
    """Return a client's line."""
    if status.fault:
        reason = gettext(
            "The status could not be computed (error {fault}). Open the results."
        ).format(fault=status.fault)
        return BoardLine(client, status, Need(status.need), reason, 0, _no_row())
    row = _row(status.fortnight)
    rests = client.voice_rest_until
    if rests and status.day <= rests and status.need != Need.STOP:
        reason = gettext("Voice rest until {rests}: practice is paused.").format(
            rests=short_day(rests)
        )
        return BoardLine(client, status, Need(status.need), reason, len(status.proposed), row)
    if not status.proposed:
        reason = _stop_words(status, client) or _on_course_words(status.fortnight)
        if status.board_need is Need.WAITING:
            waiting_words = gettext("Contact decided on {day}. No answer and no practice since.")
            reason = f"{waiting_words.format(day=short_day(status.waiting_since))} {reason}"
        return BoardLine(client, status, status.board_need, reason, 0, row)
    first = status.proposed[0]
    proposal = proposal_from(first)
    key, action = KEYS[proposal.step]
    small = first["title"]
    if proposal.step is Step.SWAP and (other := substitute_for(first["task_code"], catalogue)):
        action = gettext("swap for “{task}”").format(task=other.name)
    if proposal.step in RUNGS and first.get("to"):
        rises = proposal.step is Step.ADVANCE
        stands, to = first["to"]
        words = gettext("advance to {to}") if rises else gettext("ease to {to}")
        action, small = words.format(to=to), gettext("from {stands}").format(stands=stands)
    refers = proposal.step is Step.STOP_AND_REFER
    stops = _stop_words(status, client)
    if stops and not refers:
        # A stop comes first; the results page lists the other proposals.
        return BoardLine(client, status, Need.STOP, stops, len(status.proposed), row)
    besides = _stop_words(status, client, named_already=first.get("flags", ())) if refers else ""
    reason = f"{reason_words(first)} {besides}".strip()
    return BoardLine(
        client, status, Need(status.need), reason, len(status.proposed) - 1, row,
        key=key, action=action, small=small, task=first["task"], step=proposal.step.value,
        may_wait=not refers,
    )  # fmt: skip


#: Stops named on a line; the results page lists all.
STOPS_NAMED = 2


def _stop_words(status: ClientStatus, client: Client, *, named_already: Any = ()) -> str:
    """Return the words for unresolved stops; empty if there are none.

    Args:
        named_already: flags that the line names besides.
    """
    stops = [each for each in status.stops if not set(each["flags"]) <= set(named_already)]
    named = []
    for stop in stops[:STOPS_NAMED]:
        on = datetime.fromisoformat(stop["at"]).astimezone(client.zone)
        words = (
            gettext("Stop on {on}: {reasons_of}, withdrawn by the client.")
            if stop["taken_back"]
            else gettext("Stop on {on}: {reasons_of}.")
        )
        named.append(words.format(on=short_day(on), reasons_of=reasons_of(stop["flags"])))
    more = len(stops) - len(named)
    return " ".join(
        [*named, *([gettext("{more} more unresolved.").format(more=more)] if more > 0 else [])]
    )


def reason_words(kept: dict) -> str:
    """Return the reason in words with figures; for a stop, the reported flags."""
    proposal = proposal_from(kept)
    if proposal.step is Step.STOP_AND_REFER and kept.get("flags"):
        return gettext("A red flag is open: {reasons_of}.").format(
            reasons_of=reasons_of(kept["flags"])
        )
    words = reason_of(proposal)
    whole = kept["title"] == title_of_whole()
    return f"{words[0].upper()}{words[1:]}." if whole else f"{kept['title']}: {words}."


def _on_course_words(fortnight: dict[str, Any]) -> str:
    if not fortnight["programme"]:
        return gettext("No programme yet.")
    if not fortnight["last"]:
        return gettext("No practice yet.")
    reasons = [each.rstrip(".") for each in fortnight.get("stays", [])[:1]]
    if not reasons and fortnight["judged"]:
        reasons.append(
            gettext("{met} of {judged} on target in 7 days").format(
                met=fortnight["met"], judged=fortnight["judged"]
            )
        )
    if fortnight["adherence"] is not None:
        reasons.append(
            gettext("{adherence:.0%} adherence in 14 days").format(adherence=fortnight["adherence"])
        )
    reasons.append(
        gettext("last on {fromisoformat}").format(
            fromisoformat=short_day(date.fromisoformat(fortnight["last"]))
        )
    )
    return " ".join(f"{each[0].upper()}{each[1:]}." for each in reasons)


def _row(fortnight: dict[str, Any]) -> BoardRow:
    days = fortnight["days"]
    every = [(place, reed) for place, day in enumerate(days) for reed in day["reeds"]]
    tallest = max([1.0, *(max(reed["s"], reed["asked"] or 0) for _, reed in every)])
    scale = Scale(ground=GROUND, px_per_s=(GROUND - TOP) / (tallest * 1.08))
    stems: dict[str, list[str]] = defaultdict(list)
    targets: list[tuple[float, float]] = []
    for place, day in enumerate(days):
        count = len(day["reeds"])
        for number, reed in enumerate(day["reeds"]):
            x = place * _DAY + _DAY * (number + 1) / (count + 1)
            if reed["asked"] and (not targets or targets[-1][1] != reed["asked"]):
                targets.append((place * _DAY, reed["asked"]))
            path = small_stem(
                x=x, seconds=reed["s"], lean_cents=reed["lean"], spread_cents=reed["spread"],
                breaks=reed["breaks"], scale=scale, lean_px=5.0,
            )  # fmt: skip
            stems[reed["outcome"]].append(path)
    if not targets and fortnight["target_s"]:
        targets = [(0.0, min(fortnight["target_s"], tallest))]
    surface = water_steps(targets, left=0, right=WIDTH, scale=scale)
    missed = [
        round(place * _DAY + _DAY / 2 - 3, 1) for place, day in enumerate(days) if day["missed"]
    ]
    return BoardRow(
        water=f"{surface}L{WIDTH} {GROUND}L0 {GROUND}Z" if surface else "",
        surface=surface,
        reeds=[SmallReed("".join(paths), state) for state, paths in stems.items()],
        missed="".join(f"M{x} 51h8v3h-8z" for x in missed),
        spoken=_fortnight_words(fortnight, every, missed),
        weekdays=_weekdays(date.fromisoformat(fortnight["first"])),
    )


def _weekdays(first: date) -> list[tuple[str, str]]:
    return [
        (f"{(number + 0.5) * _DAY:.0f}", date_format(first + timedelta(days=number), "D")[:1])
        for number in range(FORTNIGHT)
    ]


def _fortnight_words(fortnight: dict[str, Any], every: list[Any], missed: list[Any]) -> str:
    first = date.fromisoformat(fortnight["first"])
    span = gettext("{first} to {first_2}").format(
        first=short_day(first), first_2=short_day(first + timedelta(days=FORTNIGHT - 1))
    )
    if not every:
        holds = gettext("no holds")
    else:
        met = sum(reed["outcome"] == Trial.Outcome.MET for _, reed in every)
        longest = max(reed["s"] for _, reed in every)
        holds = gettext(
            "longest holds of {every} sessions, {met} on target, at most {longest:.1f} s"
        ).format(every=len(every), met=met, longest=longest)
    if not missed:
        return f"{span}: {holds}"
    days = ngettext("{count} day missed", "{count} days missed", len(missed))
    return f"{span}: {holds}; {days.format(count=len(missed))}"
