"""Entries waiting on a device are encrypted with the client's public key: a device can store and
send them, but only the server can read them.

By RFC 9180 (hybrid public key encryption), base mode, over P-256, HKDF-SHA256 and AES-256-GCM.
The key that opens lies beside the client's record, sealed by the site's own key, and so in the
journal too, where a restore finds those that were made since the backup. With the record it is
erased, and then nothing opens what a lost device still holds.
"""

from base64 import b64encode
from typing import cast

from cryptography.fernet import InvalidToken
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.hazmat.primitives.hpke import AEAD, KDF, KEM, Suite
from cryptography.hazmat.primitives.serialization import (
    Encoding,
    NoEncryption,
    PrivateFormat,
    PublicFormat,
    load_der_private_key,
)
from django.db import transaction

from web.clients.models import Client
from web.keeping import journal
from web.keeping.keyring import box, reencrypt
from web.ui.saving import lock_row

from .models import DeviceKey

SUITE = Suite(KEM.P256, KDF.HKDF_SHA256, AEAD.AES_256_GCM)
#: Purpose string of the encryption, known to both sides.
PURPOSE = b"still-reed: waits on a device"
#: Purpose string for the site's own keys.
SEALED_FOR = "device key"
#: First bytes of a readable key; an encrypted one is text.
_DER = b"\x30"


def sealing_key(client: Client) -> str:
    """Return the public key of this client's devices, base64 of its uncompressed point; create it
    if necessary."""
    point = (
        load(device_key(client))
        .public_key()
        .public_bytes(Encoding.X962, PublicFormat.UncompressedPoint)
    )
    return b64encode(point).decode()


def device_key(client: Client) -> bytes:
    """Return the client's key, DER; create it if there is none, or if the site key that encrypted
    it is gone."""
    made = key_of(client.pk)
    if made is not None:
        return made
    private = ec.generate_private_key(ec.SECP256R1())
    plain = private.private_bytes(Encoding.DER, PrivateFormat.PKCS8, NoEncryption())
    with transaction.atomic():
        lock_row(client)  # Two pages at once: the first one's key counts.
        made = key_of(client.pk)
        if made is None:
            made = plain
            DeviceKey.objects.update_or_create(client=client, defaults={"private": plain})
            journal.note(
                journal.DEVICE_KEY,
                record=client.pk,
                created=client.created_at.isoformat(),
                sealed=sealed_key(plain),
            )
    return made


def key_of(client_pk: int) -> bytes | None:
    """Return a client's key, DER; None without one, or if none of the site's keys decrypts it."""
    kept = DeviceKey.objects.filter(client=client_pk).first()
    if kept is None:
        return None
    private = bytes(kept.private)
    try:
        return private if private.startswith(_DER) else box(SEALED_FOR).decrypt(private)
    except InvalidToken:
        return None


def sealed_key(plain: bytes) -> str:
    """Return a key as it may lie outside the database."""
    return box(SEALED_FOR).encrypt(plain).decode()


def seal_keys() -> int:
    """Put every key under the newest of the site's keys.

    A key is made readable and sealed in the night after, so that the version before, which may
    still run beside this one, can read what is new.

    Returns:
        How many none of the site's keys opens.
    """
    shut = 0
    for pk in DeviceKey.objects.values_list("pk", flat=True):
        with transaction.atomic():
            kept = DeviceKey.objects.select_for_update().filter(pk=pk).first()
            if kept is None:
                continue
            private = bytes(kept.private)
            try:
                kept.private = (
                    sealed_key(private).encode()
                    if private.startswith(_DER)
                    else reencrypt(private.decode(), SEALED_FOR).encode()
                )
            except InvalidToken:
                shut += 1
            kept.save(update_fields=["private"])
    return shut


@transaction.atomic
def open_keys() -> None:
    """Make every key readable, for a version that knows no sealed ones."""
    for kept in DeviceKey.objects.select_for_update():
        plain = key_of(kept.pk)
        if plain is not None:
            kept.private = plain
            kept.save(update_fields=["private"])


@transaction.atomic
def recover_key(client: Client, sealed: str) -> bool:
    """Put back a key that the journal has and restored records lack.

    Returns:
        Whether it is the client's now; not where no key of the site's opens it.
    """
    try:
        plain = box(SEALED_FOR).decrypt(sealed.encode())
    except InvalidToken:
        return False
    if key_of(client.pk) != plain:
        DeviceKey.objects.update_or_create(client=client, defaults={"private": plain})
    return True


def load(private: bytes) -> ec.EllipticCurvePrivateKey:
    """Return a key as an object that decrypts."""
    return cast(ec.EllipticCurvePrivateKey, load_der_private_key(private, password=None))
