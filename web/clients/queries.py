"""Looking clients up."""

from datetime import timedelta

from django.db.models import Exists, OuterRef, Q, QuerySet
from django.shortcuts import get_object_or_404

from reedcore.baseline import ReferenceRow
from reedcore.safety import Block, Flag, Tier, clearance
from web.accounts.models import User
from web.accounts.opened import note_record

from .models import Baseline, BaselineTrial, Client, Helper, Screen, Stop, Target
from .practice_link import PracticeLink


def client_seen_by(user, pk: int) -> Client:
    """That client, if this person may see them; otherwise they do not exist."""
    unread = Stop.objects.filter(client=OuterRef("pk"), read_at=None)
    client = get_object_or_404(user.visible_clients().annotate(has_unread=Exists(unread)), pk=pk)
    client.clinic = user.clinic  # nobody sees another clinic's clients
    note_record(client.pk)
    return client


def found_clients(user, words: str, *, archived: bool = False) -> QuerySet[Client]:
    """The person's clients whose name or occupation holds every word."""
    clients = user.visible_clients().filter(archived_at__isnull=not archived)
    if user.sees_no_names:
        # neither the order nor what is found tells a name
        numbers = [int(word) for word in words.split() if word.isdecimal() and len(word) < 10]
        return clients.filter(pk__in=numbers).order_by("pk") if words else clients.order_by("pk")
    for word in words.split()[:8]:
        clients = clients.filter(Q(name__icontains=word) | Q(occupation__icontains=word))
    return clients


#: A link that nobody has chosen a PIN for closes by itself: it may lie on a printer.
LINK_OPENS_FOR = timedelta(days=14)


def link_is_stale(link: PracticeLink, *, now) -> bool:
    """Whether a link without a PIN was made too long ago to be opened."""
    issued = link.practice_issued_at
    return not link.pin_chosen and (issued is None or now - issued > LINK_OPENS_FOR)


def link_by_practice_code(code: str) -> Client | Helper:
    """Whose link this is, however it was typed: a client's, or somebody's who helps one."""
    # the database has no NUL in its texts, and no code has one either
    tidy = code.strip().lower().replace(" ", "").replace("\x00", "")
    own = Client.objects.filter(archived_at=None, account__isnull=False)
    found = own.select_related("account", "clinic").filter(practice_code=tidy).first()
    if found is not None:
        return found
    helping = Helper.objects.filter(client__archived_at=None, ended_at=None, account__isnull=False)
    return get_object_or_404(
        helping.select_related("account", "client__clinic"), practice_code=tidy
    )


def link_of(client: Client, by: User) -> Client | Helper | None:
    """By which link of a client's this person comes in: the client's own, or a helper's."""
    if client.account_id == by.pk:
        return client
    return client.helpers.filter(account=by, ended_at=None).first()


def baseline_seen_by(user, pk: int) -> Baseline:
    """That sheet, if this person may see its client."""
    sheets = Baseline.objects.filter(client__in=user.visible_clients())
    sheet = get_object_or_404(sheets.select_related("client__clinic", "begun_by"), pk=pk)
    note_record(sheet.client_id)
    return sheet


def baseline_trial_seen_by(user, key) -> BaselineTrial:
    """That trial, likewise."""
    trials = BaselineTrial.objects.filter(baseline__client__in=user.visible_clients())
    trial = get_object_or_404(trials.select_related("baseline__client__clinic"), pk=key)
    note_record(trial.baseline.client_id)
    return trial


def newest_screen(client: Client) -> Screen | None:
    """The screen that counts."""
    return client.screens.select_related("asked_by", "safe_by").first()


def open_stops(client: Client) -> QuerySet[Stop]:
    """What the client said was wrong and nobody has cleared yet, the newest first."""
    return client.stops.filter(cleared_at=None)


def unresolved_stops(client: Client) -> QuerySet[Stop]:
    """Return the stops that no clinician has dealt with, the newest first: those that ended only a
    session and those that were taken back included."""
    return client.stops.filter(cleared_by=None)


def is_paused(client: Client) -> bool:
    """Whether nothing may be practised until a clinician has cleared a stop."""
    return open_stops(client).filter(pauses=True).exists()


def blocks(client: Client, *, on, screen: Screen | None = None) -> tuple[Block, ...]:
    """What stands against any voicing and prescribing on that day."""
    screen = screen or newest_screen(client)
    open_flags = {Flag(code) for code in screen.open_flags} if screen else set()
    for stop in open_stops(client).exclude(tier=Tier.END_SESSION, pauses=False):
        open_flags |= {Flag(code) for code in stop.flags}
    return clearance(client.safety_case(open_flags), on=on)


def targets_in_force(client: Client) -> dict[str, Target]:
    """The newest decision of each kind."""
    found = {}
    for target in client.targets.select_related("decided_by", "baseline").order_by(
        "decided_at", "pk"
    ):
        found[target.kind] = target
    return found


def reference_rows(clinic) -> list[ReferenceRow]:
    """The clinic's table as the core reads it."""
    return [
        ReferenceRow(
            row.measure, row.age_band or None, row.voice or None, row.low, row.high, row.source
        )
        for row in clinic.reference_figures.all()
    ]
