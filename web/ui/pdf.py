"""Pages as PDF, with the fonts and styles that ship with the application."""

from __future__ import annotations

from pathlib import Path
from typing import Any

HERE = Path(__file__).parent


def pdf_of(html: str) -> bytes:
    """Return a tagged PDF of one self-contained page; nothing is loaded from outside."""
    # Import late: the layout engine takes seconds to load.
    from weasyprint import CSS, HTML
    from weasyprint.text.fonts import FontConfiguration

    fonts = FontConfiguration()
    sheet = CSS(filename=HERE / "styles" / "print.css", font_config=fonts)
    document = HTML(string=html, base_url=str(HERE / "static"), url_fetcher=_fetch_local_only)
    return document.write_pdf(stylesheets=[sheet], font_config=fonts, pdf_variant="pdf/ua-1")


def _fetch_local_only(url: Any, *args: Any, **kwargs: Any) -> Any:
    """Load our own files and data URLs only."""
    from weasyprint.urls import default_url_fetcher

    if not url.startswith((HERE.as_uri(), "data:")):
        raise ValueError(f"a page for print may not fetch {url}")
    return default_url_fetcher(url, *args, **kwargs)
