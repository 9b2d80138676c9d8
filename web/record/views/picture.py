"""Serve a picture of the library to users who may see it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from django.contrib.auth.decorators import login_required
from django.db.models import Q
from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from django.views.decorators.http import require_GET

from web.catalogue.models import Picture

if TYPE_CHECKING:
    from web.accounts.requests import SignedInRequest


@login_required
@require_GET
def picture(request: SignedInRequest, pk: int) -> HttpResponse:
    """Return the picture itself, for its clinic's people, and for a client whose programme shows
    it."""
    found = get_object_or_404(Picture.objects.filter(clinic=request.user.clinic_id or 0), pk=pk)
    if request.user.practises:
        shown = Q(programmes__document__items__contains=[{"picture": pk}])
        get_object_or_404(request.user.visible_clients().filter(shown).distinct())
    headers = {"Cache-Control": "private, max-age=31536000, immutable"}
    return HttpResponse(bytes(found.image), content_type="image/jpeg", headers=headers)
