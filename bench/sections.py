"""The parts of docs/benchmarks.md: each is measured by itself and leaves the others as they are."""

from __future__ import annotations

import re
from pathlib import Path

PAGE = Path(__file__).resolve().parents[1] / "docs" / "benchmarks.md"


def put(heading: str, text: str, *, page: Path = PAGE) -> None:
    """Puts one part in place of what it was, or behind the others.

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
