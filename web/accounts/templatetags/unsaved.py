"""Template tags that mark forms with unsaved input."""

from __future__ import annotations

from uuid import UUID

from django import template
from django.template.context import RequestContext
from django.urls import reverse
from django.utils.html import format_html, json_script
from django.utils.timezone import localtime

from ..models import UnsavedForm
from ..unsaved import FIELD

register = template.Library()


@register.simple_tag(takes_context=True)
def unsaved(context: RequestContext, name: UUID | str) -> str:
    """Mark a form: its input is stored under the page's path and this name."""
    request = context["request"]
    form = f"{request.path}#{name}"[:200]
    kept = UnsavedForm.objects.filter(user=request.user, form=form).first()
    field = format_html(
        '<input type="hidden" name="{}" value="{}" data-unsaved="{}">', FIELD, form,
        reverse("accounts:unsaved"),
    )  # fmt: skip
    if kept is None:
        return field
    draft = {"fields": kept.fields, "at": f"{localtime(kept.changed_at):%-d %B, %H:%M}"}
    return format_html("{}<span data-kept hidden>{}</span>", field, json_script(draft))
