"""A link as a code that a telephone's camera reads."""

import segno


def qr_of(link: str, *, scale: int = 3) -> str:
    """Return a QR code as inline SVG with its margin."""
    made: str = segno.make(link, error="m").svg_inline(scale=scale, border=2, omitsize=False)
    return made
