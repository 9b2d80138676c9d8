"""Pages for what went wrong: each says what to do next."""

from django.shortcuts import render


def bad_request(request, exception=None):
    return render(request, "ui/problem.html", {"kind": "bad_request"}, status=400)


def forbidden(request, exception=None):
    return render(request, "ui/problem.html", {"kind": "forbidden"}, status=403)


def form_expired(request, reason=""):
    """The form's token did not fit: an old page, or cookies switched off."""
    return render(request, "ui/problem.html", {"kind": "form_expired"}, status=403)


def not_found(request, exception=None):
    return render(request, "ui/problem.html", {"kind": "not_found"}, status=404)


def server_error(request):
    # rendered without the request: whatever broke may have been in it
    return render(None, "ui/server_error.html", status=500)
