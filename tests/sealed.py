"""Encryption as on a device, for tests that send stored entries: RFC 9180 over P-256."""

import json
from base64 import b64decode

from cryptography.hazmat.primitives.asymmetric.ec import SECP256R1, EllipticCurvePublicKey
from cryptography.hazmat.primitives.hpke import AEAD, KDF, KEM, Suite

_SUITE = Suite(KEM.P256, KDF.HKDF_SHA256, AEAD.AES_256_GCM)


def sealed_to(key, words, recording=b""):
    """Return an entry (or its text) with its sound, encrypted with the key of a page."""
    point = EllipticCurvePublicKey.from_encoded_point(SECP256R1(), b64decode(key))
    text = (words if isinstance(words, str) else json.dumps(words)).encode()
    whole = len(text).to_bytes(4, "big") + text + recording
    return _SUITE.encrypt(whole, point, info=b"still-reed: waits on a device")
