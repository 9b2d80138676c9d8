"""The manifest with which a phone installs the practice page."""

from __future__ import annotations

from django.http import HttpRequest, JsonResponse
from django.templatetags.static import static
from django.urls import reverse
from django.utils.translation import get_language, gettext
from django.views.decorators.http import require_GET

#: Background of the page and of the start screen.
PAPER = "#F7F4EC"
ICON_SIZES = (192, 512)


@require_GET
def manifest(request: HttpRequest) -> JsonResponse:
    """Return the web app manifest (W3C): name, start page, icons."""
    icons = [
        {
            "src": static(f"ui/icon-{size}.png"),
            "sizes": f"{size}x{size}",
            "type": "image/png",
            "purpose": purpose,
        }
        for size in ICON_SIZES
        for purpose in ("any", "maskable")
    ]
    return JsonResponse(
        {
            "id": reverse("practice:today"),
            "name": gettext("Still Reed practice"),
            "short_name": "Still Reed",
            "lang": get_language(),
            "start_url": reverse("practice:today"),
            "scope": "/practice/",
            "display": "standalone",
            "background_color": PAPER,
            "theme_color": PAPER,
            "icons": icons,
        },
        content_type="application/manifest+json",
    )
