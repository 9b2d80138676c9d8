"""Who may open a view. What they may see in it is the business of its queries."""

from functools import wraps

from django.contrib.auth.decorators import login_required
from django.http import Http404


def _only(role_test):
    def decorate(view):
        @wraps(view)
        def guarded(request, *args, **kwargs):
            if not role_test(request.user):
                # not "forbidden": somebody else's page does not exist
                raise Http404
            return view(request, *args, **kwargs)

        return login_required(guarded)

    return decorate


clinician_only = _only(lambda user: user.is_clinician)
client_only = _only(lambda user: user.is_client)
