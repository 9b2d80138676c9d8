"""A pseudo-locale: every text marked for translation is put between ⟦ and ⟧, so that unmarked texts
are visible on a page."""

import json
import re
from contextlib import contextmanager
from html.parser import HTMLParser

from django.apps import apps
from django.db import models
from django.utils import translation
from django.utils.translation import _trans

from reedcore.catalogue.pairs import shapes, sounds
from reedcore.catalogue.schema import MEASURES
from reedcore.catalogue.tasks import shipped_tasks
from reedcore.safety import Hazard

CODE = "qps"
OPENS, ENDS = "⟦", "⟧"
#: Attributes that people read or hear.
READ = ("alt", "aria-label", "placeholder", "title", "aria-description")
#: Texts that are equal in every language: units, names of formats and notes, the product,
#: addresses.
SAME = re.compile(
    r"Still Reed|\b[0-9a-f]{8,}\b|\b(?:Hz|dB|dBFS|SPL|ms|cm|mm|mL|kPa|cmH₂O|PDF|CSV|JSON|FHIR|R4B|WAV|MIDI|BPM|QR|iCalendar"
    r"|YAML|PIN|UTC|GMT|px|MB|kB|HNR|CPP|LTAS|[A-G][♯♭]?\d)\b|\S+@\S+|https?://\S+|/\S+/\S*|\w+\.(?:csv|json|ics|mid|pdf)"
)
#: Elements without text of the site: scripts, and typed content.
SKIPPED = ("script", "style", "textarea")
LETTERS = re.compile(r"[^\W\d_]{3,}")


def marked(text):
    return f"{OPENS}{text}{ENDS}" if text.strip() else text


@contextmanager
def spoken(monkeypatch):
    """Activate the pseudo-locale."""
    with monkeypatch.context() as patched:
        patched.setattr(_trans, "gettext", marked, raising=False)
        patched.setattr(_trans, "pgettext", lambda context, text: marked(text), raising=False)
        patched.setattr(
            _trans, "ngettext", lambda one, many, n: marked(one if n == 1 else many), raising=False
        )
        patched.setattr(
            _trans,
            "npgettext",
            lambda c, one, many, n: marked(one if n == 1 else many),
            raising=False,
        )
        with translation.override(CODE):
            yield


class _PageTexts(HTMLParser):
    """Collects the readable texts of a page in order."""

    def __init__(self):
        super().__init__()
        self.parts, self.skips, self.values = [], 0, []

    def handle_starttag(self, tag, attrs):
        self.skips += tag in SKIPPED
        found = dict(attrs)
        for name in READ:
            if found.get(name):
                self.values.append(found[name])
        if tag == "input" and found.get("type") in ("submit", "button"):
            self.values.append(found.get("value") or "")

    def handle_endtag(self, tag):
        self.skips -= tag in SKIPPED

    def handle_data(self, data):
        if not self.skips:
            self.parts.append(data)


def unmarked(html, known=()):
    """Return the texts of a page outside all marks; ``known`` texts were typed by people."""
    seen = _PageTexts()
    seen.feed(html)
    return {
        words for text in ("\n".join(seen.parts), *seen.values) for words in _outside(text, known)
    }


def unmarked_json(body, known=()):
    """Return the unmarked sentences of a JSON answer."""
    return {
        words
        for text in _strings(json.loads(body))
        for words in _outside(text, known)
        if " " in words
    }


def _strings(value):
    if isinstance(value, str):
        yield value
    elif isinstance(value, dict):
        for each in value.values():
            yield from _strings(each)
    elif isinstance(value, list):
        for each in value:
            yield from _strings(each)


def _outside(text, known):
    depth, outside = 0, []
    for piece in re.split(f"([{OPENS}{ENDS}])", text):
        depth += {OPENS: 1, ENDS: -1}.get(piece, 0)
        if depth == 0 and piece not in (OPENS, ENDS):
            outside.append(piece)
    for line in {line for piece in outside for line in piece.split("\n")}:
        left = SAME.sub(" ", line)
        if not LETTERS.search(left):
            continue
        for each in known:
            left = left.replace(each, " ")
        if LETTERS.search(left):
            yield re.sub(r"\s+", " ", line).strip()


def typed():
    """Return every text typed by people, and every key: none is the site's to translate."""
    found = {*shipped_tasks(), *sounds(), *shapes(), *MEASURES, *Hazard}
    for model in apps.get_models():
        names = [
            field.name
            for field in model._meta.concrete_fields
            if isinstance(field, models.CharField | models.TextField | models.UUIDField)
        ]
        for row in model._base_manager.values_list(*names)[:300] if names else ():
            found |= {str(value) for value in row if value and len(str(value)) > 1}
    return sorted(found, key=len, reverse=True)
