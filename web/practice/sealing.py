"""What waits on a device is sealed there, to a key of its client's: it can be kept and sent on, and
read only here.

By RFC 9180 (hybrid public key encryption), base mode, over P-256, HKDF-SHA256 and AES-256-GCM.
The key that opens lies beside the client's record, which says more than any seal hides; with the
record it is erased, and then nothing opens what a lost device still holds.
"""

from base64 import b64decode, b64encode
from dataclasses import dataclass
from typing import cast

from cryptography.exceptions import InvalidTag
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.hazmat.primitives.hpke import AEAD, KDF, KEM, Suite
from cryptography.hazmat.primitives.serialization import (
    Encoding,
    NoEncryption,
    PrivateFormat,
    PublicFormat,
    load_der_private_key,
)

from web.clients.models import Client

from .forms import LARGEST_ENTRY
from .models import DeviceKey

SUITE = Suite(KEM.P256, KDF.HKDF_SHA256, AEAD.AES_256_GCM)
#: What a seal is for, as both ends say it.
PURPOSE = b"still-reed: waits on a device"
#: Before the words of an entry: how many bytes they are; what follows them is its sound.
_LENGTH_BYTES = 4


class Unopened(ValueError):
    """It is no seal of ours, is of another client's key, or was changed on the way."""


@dataclass(frozen=True)
class Opened:
    """What had been sealed: an entry as its device wrote it, and its recording where it has one."""

    words: str
    sound: bytes | None


def sealing_key(client: Client) -> str:
    """The key that this client's devices seal to, base64 of its uncompressed point; made when it
    is first asked for."""
    point = (
        _private(device_key(client))
        .public_key()
        .public_bytes(Encoding.X962, PublicFormat.UncompressedPoint)
    )
    return b64encode(point).decode()


def device_key(client: Client) -> DeviceKey:
    """Return the client's key; make it where it is asked for the first time."""
    made = DeviceKey.objects.filter(client=client).first()
    if made is None:
        private = ec.generate_private_key(ec.SECP256R1())
        kept = private.private_bytes(Encoding.DER, PrivateFormat.PKCS8, NoEncryption())
        made, _ = DeviceKey.objects.get_or_create(client=client, defaults={"private": kept})
    return made


def opened(client: Client, sealed: bytes) -> Opened:
    """What one of this client's devices had sealed.

    Raises:
        Unopened: it cannot be opened with the client's key, or holds no entry.
    """
    made = DeviceKey.objects.filter(client=client).first()
    if made is None:
        raise Unopened("no key was made for this client")
    try:
        plain = SUITE.decrypt(bytes(sealed), _private(made), info=PURPOSE)
    except (InvalidTag, ValueError) as wrong:
        raise Unopened("it does not open with the client's key") from wrong
    length = int.from_bytes(plain[:_LENGTH_BYTES], "big")
    words, sound = plain[_LENGTH_BYTES:][:length], plain[_LENGTH_BYTES + length :]
    if not 0 < length <= LARGEST_ENTRY or len(words) < length:
        raise Unopened("it holds no entry")
    return Opened(words.decode("utf-8", errors="replace"), sound or None)


def opened_text(client: Client, sealed: str) -> str:
    """The words of what came as text.

    Raises:
        Unopened: as `opened`.
    """
    try:
        return opened(client, b64decode(sealed, validate=True)).words
    except ValueError as wrong:  # a letter outside ASCII is no binascii.Error
        raise Unopened("it is no base64") from wrong


def _private(made: DeviceKey) -> ec.EllipticCurvePrivateKey:
    key = load_der_private_key(bytes(made.private), password=None)
    return cast(ec.EllipticCurvePrivateKey, key)  # as it was made above
