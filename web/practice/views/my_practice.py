"""The client's own overview of practice."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.http import HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, render
from django.utils import timezone
from django.views.decorators.http import require_GET

from web.accounts.access import practising
from web.record.conversation import is_answered, message_for_client
from web.record.programmes import current_programme
from web.ui.dates import month_day, week_day

from ..my_practice import held_progress, next_day, practised_days, weeks_picture

if TYPE_CHECKING:
    from web.accounts.requests import SignedInRequest
    from web.clients.models import Client


def _client(request: SignedInRequest) -> Client:
    return get_object_or_404(request.user.visible_clients().select_related("clinic"))


@practising
@require_GET
def progress(request: SignedInRequest) -> JsonResponse:
    """Return the data for the end of a session, and the clinician's message."""
    client = _client(request)
    programme = current_programme(client)
    today = timezone.localdate(timezone=client.zone)
    message = message_for_client(client, now=timezone.now())
    return JsonResponse(
        {
            "held": {
                each.task: {
                    "title": each.title,
                    "first_week_s": each.first_week,
                    "last_s": each.last,
                    "target_s": each.target,
                }
                for each in (held_progress(client, programme, today=today) if programme else [])
            },
            "days": [practised for _, practised in practised_days(client, today=today)],
            "message": message
            and {
                "pk": message.pk,
                "text": message.text,
                "by": message.written_by.get_full_name(),
                "on": month_day(message.written_at.astimezone(client.zone)),
                "is_answered": is_answered(message),
            },
        }
    )


@practising
@require_GET
def my_practice(request: SignedInRequest) -> HttpResponse:
    """Return the client's own practice over the weeks, as it prints."""
    client = _client(request)
    programme = current_programme(client)
    today = timezone.localdate(timezone=client.zone)
    context: dict[str, Any] = {"client": client, "days": practised_days(client, today=today)}
    context["practised"] = sum(practised for _, practised in context["days"])
    context["message"] = message_for_client(client, now=timezone.now())
    if programme:
        programme.client = client
        held = held_progress(client, programme, today=today)
        context["held"] = [(each, weeks_picture(each)) for each in held if each.weeks]
        day = next_day(programme, today=today)
        context["next"] = day and {"is_today": day == today, "words": week_day(day)}
    return render(request, "practice/my_practice.html", context)
