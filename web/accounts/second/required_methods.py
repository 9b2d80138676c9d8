"""The clinic's requirement of two-step verification for its staff."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from allauth.mfa.adapter import get_adapter
from allauth.mfa.models import Authenticator
from django.contrib import messages
from django.db.models import QuerySet
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.http.response import HttpResponseBase
from django.shortcuts import redirect
from django.utils.translation import gettext

from .adapters import STEPS

if TYPE_CHECKING:
    from web.accounts.models import User

#: Pages that stay open without a second step: setup and sign-out.
OPEN = ("/account/", "/sign-out/", "/static/")


def has_second_step(user: Any) -> bool:
    """Return whether this user signs in with a second step."""
    return get_adapter().is_mfa_enabled(user, STEPS)


def with_second_step(people: QuerySet[Any]) -> set[int]:
    """Return the keys of those users who have a second step."""
    steps = Authenticator.objects.filter(user__in=people, type__in=STEPS)
    return set(steps.values_list("user", flat=True))


def lacks_second_step(user: User) -> bool:
    """Return whether the clinic asks this person for one that they have not set up."""
    return user.is_clinic_staff and user.clinic.second_step_required and not has_second_step(user)


class SecondStepMiddleware:
    """Redirect users without a required method to its set-up page."""

    def __init__(self, get_response: Callable[..., Any]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        user = request.user
        if user.is_authenticated and not request.path.startswith(OPEN) and lacks_second_step(user):
            return _setup_redirect(request)
        return self.get_response(request)


def _setup_redirect(request: HttpRequest) -> HttpResponse:
    words = gettext("Your clinic requires two-step verification. Set it up to continue.")
    if request.headers.get("Sec-Fetch-Mode", "navigate") != "navigate":
        return JsonResponse({"sentence": words}, status=403)
    messages.info(request, words)
    return redirect("accounts:own")
