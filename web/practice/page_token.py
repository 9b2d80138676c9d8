"""The token of a practice page: it identifies the page's client, and authorises stop reports.

It opens nothing and shows nothing. It has no end, because a stop may lie on a device for as long as
the device does. It carries two signatures and either is enough: the site's, which holds when a
client's key was replaced, and the client's own, which holds when the site's key was replaced.
"""

import hmac
from base64 import urlsafe_b64encode
from dataclasses import dataclass
from hashlib import sha256
from typing import Any

from django.core import signing

from web.accounts.models import User
from web.clients.models import Client
from web.clients.practice_link import PracticeLink
from web.clients.queries import link_of

from .sealing import device_key, key_of

_SALT = "practice: what a page may send"
#: Separator of the two signatures; neither contains it.
_BETWEEN = "~"


@dataclass(frozen=True)
class Holder:
    """The account that a page was made for.

    Attributes:
        client: whose programme the page shows.
        by: who was signed in when the page was made; None where that account is gone.
        can_send: whether the page may still send: the account is active, and its link is still the
            one that the page was made under, or the colleague still sees the client.
        is_replaced: whether there is another link in its place: what waits on the device can be
            sent under that one.
    """

    client: Client
    by: User | None
    can_send: bool
    is_replaced: bool = False


def page_token(client: Client, *, by: User) -> str:
    """Return the token for a page that is made for this client and this person."""
    named = [client.pk, by.pk, _issue_of(link_of(client, by) or client)]
    by_site = signing.dumps(named, salt=_SALT)
    return f"{by_site}{_BETWEEN}{_signature(device_key(client), by_site)}"


def holder_of(token: Any) -> Holder | None:
    """Return the client of a page; None if the token is not from this site."""
    by_site, _, by_client = str(token).partition(_BETWEEN)
    named = _signed_by_the_site(by_site) or _signed_by_the_client(by_site, by_client)
    match named:
        case [int() as client_pk, int() as by_pk, issue]:
            client = Client.objects.select_related("clinic", "account").filter(pk=client_pk).first()
        case _:
            return None
    if client is None:
        return None
    by = User.objects.filter(pk=by_pk).first()
    if by is None or not by.is_active or client.archived_at is not None:
        return Holder(client, by, can_send=False)
    link = link_of(client, by) if by.practises else None
    if link is not None and link.practice_code:
        is_same = issue == _issue_of(link)
        return Holder(client, by, can_send=is_same, is_replaced=not is_same)
    leads = by.leads_sessions and by.visible_clients().filter(pk=client.pk).exists()
    return Holder(client, by, can_send=leads)


def _signed_by_the_site(by_site: str) -> Any:
    try:
        return signing.loads(by_site, salt=_SALT)
    except (signing.BadSignature, ValueError, TypeError):
        return None


def _signed_by_the_client(by_site: str, by_client: str) -> Any:
    """Return the client named by a token that the client's own key signed."""
    try:
        payload = signing.b64_decode(by_site.partition(":")[0].encode())
        named = signing.JSONSerializer().loads(payload)
    except ValueError:
        return None
    if not isinstance(named, list) or not named or not isinstance(named[0], int):
        return None
    key = key_of(named[0])
    genuine = key is not None and hmac.compare_digest(
        by_client.encode(), _signature(key, by_site).encode()
    )
    return named if genuine else None


def _signature(key: bytes, signed: str) -> str:
    """Return the client's signature, made with the key that opens seals and is never shown."""
    secret = sha256(_SALT.encode() + key).digest()
    digest = hmac.new(secret, signed.encode(), sha256).digest()
    return urlsafe_b64encode(digest).decode().rstrip("=")


def _issue_of(link: PracticeLink) -> str:
    made = link.practice_issued_at
    return f"{link.practice_code}/{made.isoformat() if made else ''}"
