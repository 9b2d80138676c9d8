"""What a serving process does once everything is loaded."""

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
    """What is loaded by now stays: the collector no longer looks through all of it while a page is
    made, which is a fifth of the time of a large one."""
    _load_what_pages_need()
    gc.collect()
    gc.freeze()
    gc.set_threshold(YOUNG, MIDDLE, OLD)


def _load_what_pages_need() -> None:
    """Templates, addresses and the catalogue: else whoever comes first waits for them."""
    shipped_tasks()
    reverse("accounts:home")  # Loads all of them.
    engine = engines["django"]
    for folder in get_app_template_dirs("templates"):
        if WEB in folder.parents:
            for file in sorted(folder.rglob("*.html")):
                engine.get_template(str(file.relative_to(folder)))
