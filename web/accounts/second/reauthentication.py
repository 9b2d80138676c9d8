"""Reauthentication before actions that cannot be undone or that export records."""

from __future__ import annotations

from functools import wraps
from typing import Any
from urllib.parse import urlencode

from allauth.account.adapter import get_adapter
from allauth.account.decorators import reauthentication_required
from allauth.account.internal.flows.reauthentication import is_reauthentication_required
from django.contrib import messages
from django.core.exceptions import PermissionDenied
from django.http import HttpRequest, HttpResponseRedirect
from django.urls import reverse
from django.utils.translation import gettext

#: Continue the interrupted request after the right answer; reading the page needs no answer.
asked_again = reauthentication_required(allow_get=True)


def asked_before_a_file(page: str) -> Any:
    """Ask for the password again before a file; afterwards return to the page that offers it."""

    def decorate(view: Any) -> Any:
        @wraps(view)
        def guarded(request: HttpRequest, pk: int, **more: Any) -> Any:
            if not is_reauthentication_required(request, app=""):
                return view(request, pk, **more)
            methods = get_adapter().get_reauthentication_methods(request.user)
            if not methods:
                raise PermissionDenied
            messages.info(request, gettext("Then choose the file again."))
            back = urlencode({"next": reverse(page, kwargs={"pk": pk, **more})})
            return HttpResponseRedirect(f"{methods[0]['url']}?{back}")

        return guarded

    return decorate
