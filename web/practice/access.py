"""Who sends something, and what a device is told that may send nothing any more.

Signed out, closed and away are three things: whoever is signed out signs in again and nothing is
lost; a closed link needs a new one from the clinic; and a line that is away comes back by itself.
"""

from dataclasses import dataclass

from django.core import signing
from django.http import JsonResponse

from web.accounts.models import User
from web.accounts.opened import note_record
from web.clients.models import Client
from web.clients.practice_link import PracticeLink
from web.clients.queries import link_of

_SALT = "practice: what a page may send"
#: A page may lie open, or its stop wait for a network, for so long.
HOLDS_S = 60 * 24 * 3600
#: Takes everything of ours off a device that may not have it any more.
CLEARS = '"cache", "storage"'
CLOSED = "This practice link has been closed. Ask your clinic for a new one."


@dataclass(frozen=True)
class Holder:
    """Whose page it was: the client, and whoever was signed in when it was made.

    Attributes:
        stands: the link it was made under is still the one; or the colleague still sees the client.
    """

    client: Client
    by: User
    stands: bool


def page_token(client: Client, *, by: User) -> str:
    """What a page shows when it says that something is wrong, signed in or not: it opens nothing
    and shows nothing, it only lets a stop in."""
    return signing.dumps([client.pk, by.pk, _issue_of(link_of(client, by) or client)], salt=_SALT)


def holder_of(token: str) -> Holder | None:
    """Who a page was made for; None where we did not make it."""
    try:
        client_pk, by_pk, issue = signing.loads(str(token), salt=_SALT, max_age=HOLDS_S)
    except (signing.BadSignature, ValueError, TypeError):
        return None
    client = Client.objects.select_related("clinic", "account").filter(pk=client_pk).first()
    by = User.objects.filter(pk=by_pk, is_active=True).first()
    if client is None or by is None:
        return None
    link = link_of(client, by) if by.practises else None
    own = link is not None and issue == _issue_of(link)
    leads = by.leads_sessions and by.visible_clients().filter(pk=client.pk).exists()
    return Holder(client, by, stands=client.archived_at is None and (own or leads))


def _issue_of(link: PracticeLink) -> str:
    made = link.practice_issued_at
    return f"{link.practice_code}/{made.isoformat() if made else ''}"


def client_of(user: User, pk: int | None = None) -> Client | None:
    """Whose entries this person may send: their own, or a client's whom they lead."""
    clients = user.visible_clients().select_related("clinic")
    if pk is not None:
        client = clients.filter(pk=pk).first()
        if client is not None:
            note_record(client.pk)
        return client
    return clients.first() if user.practises else None


def shut_out(request) -> JsonResponse:
    """What a device hears that is not signed in: whether to sign in again, or that its link is
    closed (then it also forgets what it has)."""
    holder = holder_of(request.headers.get("X-Practice-Page", ""))
    if holder is None or holder.stands:
        return JsonResponse({"state": "signed_out", "sentence": "Sign in again."}, status=401)
    closed = JsonResponse({"state": "closed", "sentence": CLOSED}, status=410)
    closed["Clear-Site-Data"] = CLEARS
    return closed
