"""Who may open a view. What they may see in it is the business of its queries."""

from __future__ import annotations

from functools import wraps
from typing import Any

from django.contrib.auth import REDIRECT_FIELD_NAME
from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest

from .auth_log import log_permission_denied


def _only(role_test: Any, *, sign_in: Any = None) -> Any:
    """Return a view for people of a role, by the method; who is not signed in is led to
    ``sign_in``."""

    def decorate(view: Any) -> Any:
        @wraps(view)
        def guarded(request: HttpRequest, *args: Any, **kwargs: Any) -> Any:
            if not role_test(request.user, request.method):
                log_permission_denied(request)
                # not "forbidden": somebody else's page does not exist
                raise Http404
            return view(request, *args, **kwargs)

        return login_required(guarded, login_url=sign_in, redirect_field_name=_next(sign_in))

    return decorate


def _next(sign_in: Any) -> Any:
    # a client's door leads to one page only, and an address in it would only frighten
    return REDIRECT_FIELD_NAME if sign_in is None else None


def _looks(method: str) -> bool:
    return method in ("GET", "HEAD", "OPTIONS")


#: The clinic's settings, its people, erasures.
lead_only = _only(lambda user, _: user.is_clinician and user.is_lead)
#: Prescribing, deciding, signing, and taking records out.
clinician_only = _only(lambda user, _: user.is_clinician)
#: Sessions in the clinic and what is logged in them.
assisting = _only(lambda user, _: user.leads_sessions)
#: Whoever works here looks; who may measure sends too.
measuring = _only(lambda user, how: user.leads_sessions or (user.works_here and _looks(how)))
#: Whoever works here looks; clinicians send too.
looking = _only(lambda user, how: user.is_clinician or (user.works_here and _looks(how)))
#: One's own account and what one types.
working_here = _only(lambda user, _: user.works_here)
#: Practising: the client, and whoever helps them.
practising = _only(lambda user, _: user.practises, sign_in="practice:code")
