"""Validates a browser's report about its recording."""

from __future__ import annotations

import json
from typing import Any

#: Processing that a browser may apply; with any of it, level is not judged.
PROCESSING = ("echoCancellation", "noiseSuppression", "autoGainControl")
FIELDS = (*PROCESSING, "device", "browser")


def capture_details(details: dict) -> dict[str, str]:
    """Return the known fields as short texts: true and false in JavaScript's own words.

    Without NULs, which the database cannot keep: a device's odd name must not cost a try.
    """
    return {name: _text(details[name]) for name in FIELDS if name in details}


def was_processed(capture: dict) -> bool:
    """Return whether the sound was changed before it came here."""
    return any(capture.get(name) == "true" for name in PROCESSING)


def _text(value: Any) -> str:
    text = json.dumps(value) if isinstance(value, bool) else str(value)
    return text.replace("\x00", "")[:200]
