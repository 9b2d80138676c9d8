"""Keep unsaved form input while it is typed, and restore it until it is saved.

The page sends what differs from what it was given (see ``ui/js/unsaved.js``); a form that is saved
forgets it again. Kept here and not on the device: clinicians share computers.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.http.response import HttpResponseBase
from django.utils.translation import gettext
from django.views.decorators.http import require_POST

from web.accounts.requests import SignedInRequest
from web.ui.request_body import Unreadable, read_json

from .access import working_here
from .models import UnsavedForm

#: Limits of one form: bytes of its fields, and number of fields.
LARGEST, MOST_FIELDS = 400_000, 120
#: Keep drafts of at most this many forms per person; the oldest are deleted.
MOST_FORMS = 60
FIELD = "unsaved"


@working_here
@require_POST
def keep(request: SignedInRequest) -> HttpResponse:
    """Keep form input; empty input is not kept. Leaving the page then asks for confirmation."""
    try:
        sent = read_json(request.body, most_bytes=LARGEST, should_clean=True)
    except (Unreadable, ValueError):
        return JsonResponse(
            {"sentence": gettext("This text is too long to save as a draft.")}, status=422
        )
    form, fields = _parse_form(sent)
    if form is None:
        return JsonResponse({"sentence": gettext("This is not a form.")}, status=422)
    if fields:
        UnsavedForm.objects.update_or_create(
            user=request.user, form=form, defaults={"fields": fields}
        )
        _drop_oldest(request.user)
        if sent.get("leaving") is True:
            messages.info(
                request,
                gettext("What you typed is saved as a draft. It reappears when you return."),
            )
    else:
        forget(request.user, form)
    return JsonResponse({"kept": bool(fields)})


def _parse_form(sent: dict[str, Any] | list[Any]) -> tuple[Any, ...]:
    """Return the form's name and its fields, each a pair of texts; None if the data is not a
    form."""
    form, fields = (sent.get("form"), sent.get("fields")) if isinstance(sent, dict) else (0, 0)
    if not isinstance(form, str) or not 0 < len(form) <= 200 or not isinstance(fields, dict):
        return None, {}
    kept = {
        str(name)[:80]: [str(part) for part in pair]
        for name, pair in list(fields.items())[:MOST_FIELDS]
        if isinstance(pair, list) and len(pair) == 2
    }
    return form, kept


def _drop_oldest(user: Any) -> None:
    kept = UnsavedForm.objects.filter(user=user).order_by("-changed_at", "-pk")
    too_many = list(kept.values_list("pk", flat=True)[MOST_FORMS:])
    UnsavedForm.objects.filter(pk__in=too_many).delete()


def forget(user: Any, form: str) -> None:
    """Delete stored input that was saved or discarded."""
    UnsavedForm.objects.filter(user=user, form=form).delete()


class UnsavedMiddleware:
    """Delete the stored input of a form once it was accepted with a redirect.

    A view that goes elsewhere without taking it says so: ``request.not_taken = True``.
    """

    def __init__(self, get_response: Callable[..., Any]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        response = self.get_response(request)
        taken = request.method == "POST" and response.status_code in (301, 302, 303)
        if not taken or getattr(request, "not_taken", False):
            return response
        if request.user.is_authenticated and (form := request.POST.get(FIELD, "")):
            forget(request.user, form)
        return response
