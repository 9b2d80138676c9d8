"""Prepare a server process before its first request."""

import gc
from pathlib import Path

from django.template import engines
from django.template.utils import get_app_template_dirs
from django.urls import reverse

from reedcore.catalogue.tasks import shipped_tasks

WEB = Path(__file__).resolve().parents[1]
#: A page creates and releases tens of thousands of objects: collect garbage less often.
YOUNG, MIDDLE, OLD = 50_000, 20, 20


def settle() -> None:
    """Exclude loaded objects from garbage collection: scanning them takes
    a fifth of the time of a large page."""
    _preload_pages()
    gc.collect()
    gc.freeze()
    gc.set_threshold(YOUNG, MIDDLE, OLD)


def _preload_pages() -> None:
    """Load templates, URLs and the catalogue before the first visitor has to wait for them."""
    shipped_tasks()
    reverse("accounts:home")  # Loads all of them.
    engine = engines["django"]
    for folder in get_app_template_dirs("templates"):
        if WEB in folder.parents:
            for file in sorted(folder.rglob("*.html")):
                engine.get_template(str(file.relative_to(folder)))
