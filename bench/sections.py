"""The sections of docs/benchmarks.md: each is measured alone and leaves the others unchanged."""

from __future__ import annotations

import re
from pathlib import Path

PAGE = Path(__file__).resolve().parents[1] / "docs" / "benchmarks.md"


def put(heading: str, text: str, *, page: Path = PAGE) -> None:
    """Replace one section, or append it.

    Args:
        heading: without its marks; empty for the part at the head of the page.
    """
    written = page.read_text() if page.exists() else ""
    head, *parts = re.split(r"(?m)^(?=## )", written)
    if not heading:
        head = text
    else:
        made = f"## {heading}\n\n{text.strip()}\n"
        at = next((n for n, part in enumerate(parts) if part.startswith(f"## {heading}\n")), None)
        parts = [*parts, made] if at is None else [*parts[:at], made, *parts[at + 1 :]]
    page.write_text("\n\n".join(part.strip() for part in (head, *parts)) + "\n")
