"""Decorators that restrict a view to roles; queries limit the records in it."""

from __future__ import annotations

from functools import wraps
from typing import Any

from django.contrib.auth import REDIRECT_FIELD_NAME
from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest

from .auth_log import log_permission_denied


def _role_only(role_test: Any, *, sign_in: Any = None) -> Any:
    """Return a decorator for users of a role, depending on the method; others are redirected to
    ``sign_in``."""

    def decorate(view: Any) -> Any:
        @wraps(view)
        def guarded(request: HttpRequest, *args: Any, **kwargs: Any) -> Any:
            if not role_test(request.user, request.method):
                log_permission_denied(request)
                # Answer 404, not 403: for anyone else this page does not exist.
                raise Http404
            return view(request, *args, **kwargs)

        return login_required(guarded, login_url=sign_in, redirect_field_name=_next(sign_in))

    return decorate


def _next(sign_in: Any) -> Any:
    # Send clients to their one page without showing an address; it would only worry them.
    return REDIRECT_FIELD_NAME if sign_in is None else None


def _is_read_only(method: str) -> bool:
    return method in ("GET", "HEAD", "OPTIONS")


#: Clinic settings, people and erasures.
lead_only = _role_only(lambda user, _: user.is_clinician and user.is_lead)
#: Prescribing, decisions, signatures and exports.
clinician_only = _role_only(lambda user, _: user.is_clinician)
#: Sessions in the clinic and their logs.
assisting = _role_only(lambda user, _: user.leads_sessions)
#: All staff can read; those who may measure can also send.
measuring = _role_only(
    lambda user, how: user.leads_sessions or (user.is_clinic_staff and _is_read_only(how))
)
#: All staff can read; only clinicians can send.
looking = _role_only(
    lambda user, how: user.is_clinician or (user.is_clinic_staff and _is_read_only(how))
)
#: The person's own account and drafts.
working_here = _role_only(lambda user, _: user.is_clinic_staff)
#: Practice: the client and helpers.
practising = _role_only(lambda user, _: user.practises, sign_in="practice:code")
