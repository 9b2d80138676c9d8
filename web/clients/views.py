"""The list of clients, and a client's way in."""

from django.core.paginator import Paginator
from django.shortcuts import render
from django.urls import reverse

from web.accounts.access import clinician_only

from .actions import issue_practice_access
from .queries import client_seen_by, found_clients

PER_PAGE = 50


@clinician_only
def client_list(request):
    """Everybody this clinician may see, by name."""
    words = request.GET.get("find", "").replace("\x00", "")[:100]
    page = Paginator(found_clients(request.user, words), PER_PAGE).get_page(request.GET.get("page"))
    return render(request, "clients/list.html", {"page": page, "words": words})


@clinician_only
def practice_link(request, pk):
    """The client's own link; a new PIN is shown on the page that made it, and nowhere else."""
    client = client_seen_by(request.user, pk)
    pin = None
    if request.method == "POST":
        pin = issue_practice_access(client)
        client.refresh_from_db()
    link = None
    if client.practice_code:
        path = reverse("practice:enter", args=[client.practice_code])
        link = request.build_absolute_uri(path)
    context = {"client": client, "link": link, "pin": pin}
    return render(request, "clients/practice_link.html", context)
