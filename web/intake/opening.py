"""Decrypt entries that a device has encrypted."""

from base64 import b64decode
from dataclasses import dataclass

from cryptography.exceptions import InvalidTag

from web.clients.models import Client
from web.practice.sealing import PURPOSE, SUITE, key_of, load

from .forms import LARGEST_RECEIPT

#: Length prefix of the text in a sealed entry; the rest is the sound.
_LENGTH_BYTES = 4


class EntryNotDecrypted(ValueError):
    """It is no seal of ours, is of another client's key, or was changed on the way."""


@dataclass(frozen=True)
class DecryptedEntry:
    """A decrypted entry with its recording, if it has one."""

    words: str
    sound: bytes | None


def open_sealed(client: Client, sealed: bytes) -> DecryptedEntry:
    """Decrypt data from one of this client's devices.

    Raises:
        EntryNotDecrypted: it cannot be opened with the client's key, or holds no entry.
    """
    made = key_of(client.pk)
    if made is None:
        raise EntryNotDecrypted("no key was made for this client")
    try:
        plain = SUITE.decrypt(bytes(sealed), load(made), info=PURPOSE)
    except (InvalidTag, ValueError) as wrong:
        raise EntryNotDecrypted("it does not open with the client's key") from wrong
    length = int.from_bytes(plain[:_LENGTH_BYTES], "big")
    words, sound = plain[_LENGTH_BYTES:][:length], plain[_LENGTH_BYTES + length :]
    if not 0 < length <= LARGEST_RECEIPT or len(words) < length:
        raise EntryNotDecrypted("it holds no entry")
    return DecryptedEntry(words.decode("utf-8", errors="replace"), sound or None)


def opened_text(client: Client, sealed: str) -> str:
    """Return the text of an entry received as text.

    Raises:
        EntryNotDecrypted: as `opened`.
    """
    try:
        return open_sealed(client, b64decode(sealed, validate=True)).words
    except ValueError as wrong:  # Non-ASCII characters raise ValueError, not binascii.Error.
        raise EntryNotDecrypted("it is no base64") from wrong
