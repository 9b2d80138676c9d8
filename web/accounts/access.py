"""Who may open a view. What they may see in it is the business of its queries."""

from functools import wraps

from django.contrib.auth import REDIRECT_FIELD_NAME
from django.contrib.auth.decorators import login_required
from django.http import Http404


def _only(role_test, *, sign_in=None):
    """A view for people of a role; whoever is not signed in is led to ``sign_in``."""

    def decorate(view):
        @wraps(view)
        def guarded(request, *args, **kwargs):
            if not role_test(request.user):
                # not "forbidden": somebody else's page does not exist
                raise Http404
            return view(request, *args, **kwargs)

        return login_required(guarded, login_url=sign_in, redirect_field_name=_next(sign_in))

    return decorate


def _next(sign_in):
    # a client's door leads to one page only, and an address in it would only frighten
    return REDIRECT_FIELD_NAME if sign_in is None else None


lead_only = _only(lambda user: user.is_clinician and user.is_lead)
clinician_only = _only(lambda user: user.is_clinician)
client_only = _only(lambda user: user.is_client, sign_in="practice:code")
