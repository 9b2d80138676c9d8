"""The composer: the page sends edits, and the draft comes back drawn, counted and checked."""

from __future__ import annotations

import re
from dataclasses import asdict
from typing import TYPE_CHECKING, Any
from uuid import uuid4

from django.contrib import messages
from django.http import HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.template.loader import render_to_string
from django.utils import timezone
from django.utils.translation import gettext
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from reedcore.catalogue.schema import FAMILIES
from reedcore.catalogue.synonyms import synonyms
from reedcore.pitch import Spelling
from reedcore.programme.document import clean_document
from reedcore.programme.document_schema import LARGEST_PROGRAMME
from reedcore.programme.document_values import programme_document, programme_from
from reedcore.programme.starting import (
    beside_programmes,
    starting_programmes,
    without_client_details,
)
from reedcore.translation import translate
from web.accounts.access import clinician_only, looking
from web.calculators.forms import PatternForm
from web.catalogue.actions import keep
from web.catalogue.models import LibraryEntry
from web.catalogue.queries import all_tasks, library_of, tasks_for
from web.clients.queries import client_seen_by
from web.programmes.wording import DOSE_KINDS, SCHOOLS, SORTS, WEEKDAYS, WORDINGS
from web.record.programmes import current_programme, document_in_force, empty_document, version_of
from web.screening.queries import blocks
from web.screening.wording import BLOCKS
from web.ui.request_body import read_json

from .. import actions, confirming, presenters
from ..drafting import MOST_EDITS, SentEdit, take_edits
from ..item_panel import item_panel
from ..queries import draft_document, edition_of
from ..substitutes import SPECIAL, put_pattern
from ..version_diff import differences
from ..wording import DAY_WORDS, VOICE_WORDS, finding_words

if TYPE_CHECKING:
    from collections.abc import Iterable

    from reedcore.catalogue.tasks import Task
    from web.accounts.models import User
    from web.accounts.requests import SignedInRequest
    from web.clients.models import Client
    from web.programmes.actions import EmptyProgramme, NotCleared, OpenStops

_PAGE = re.compile("[A-Za-z0-9-]{8,40}")


@clinician_only
@require_GET
def compose(request: SignedInRequest, pk: int) -> HttpResponse:
    """Return the page; everything on it but the frame comes from `edit`."""
    client = client_seen_by(request.user, pk)
    tasks = all_tasks(client.clinic)
    document, _ = clean_document(draft_document(client), tasks=tasks)
    document = document or empty_document(client)
    context = {
        **_stage(client, document, tasks, request.user),
        "starting": [(code, each.name) for code, each in starting_programmes().items()],
        "page_data": {
            "tasks": offered_tasks(tasks_for(client.clinic).values()),
            "library": _library(request.user, client),
            "edition": edition_of(client),
        },
        "blocks": [BLOCKS[each] for each in blocks(client, on=timezone.localdate())],
    }
    return render(request, "programmes/compose.html", context)


@clinician_only
@require_http_methods(["GET", "POST"])
def edit(request: SignedInRequest, pk: int) -> HttpResponse:
    """Apply a page's edits to the current draft, and return the draft drawn, counted and checked;
    for GET, only if it has changed since the page saw it."""
    client = client_seen_by(request.user, pk)
    tasks = all_tasks(client.clinic)
    if request.method == "GET":
        edition = edition_of(client)
        if request.GET.get("seen") == str(edition):
            return HttpResponse(status=204)
        document, _ = clean_document(draft_document(client), tasks=tasks)
        return _answer(request, client, document, tasks, edition, request.GET.get("chosen", ""))
    sent = _parse_edits(request)
    if sent is None:
        return JsonResponse(
            {"sentence": gettext("The edit was incomplete and was not saved. Try again.")},
            status=422,
        )
    page, chosen, edits = sent
    draft, not_made = take_edits(
        client, edits, by=request.user, page=page, tasks=tasks, special=SPECIAL
    )
    return _answer(request, client, draft.document, tasks, draft.edition, chosen, not_made)


@clinician_only
@require_POST
def from_calculator(request: SignedInRequest, pk: int) -> HttpResponse:
    """Add a pattern from the calculator to the draft, on “ah”."""
    client = client_seen_by(request.user, pk)
    form = PatternForm(request.GET)
    if not form.is_valid():
        messages.error(request, gettext("The pattern was not added: its values are not valid."))
        return redirect("programmes:compose", pk=pk)
    put = put_pattern(form.cleaned_data["drill"], id=uuid4().hex[:12])
    _, not_made = take_edits(
        client,
        [SentEdit(1, edition_of(client), {"do": "pattern"})],
        by=request.user,
        page=uuid4().hex,
        tasks=all_tasks(client.clinic),
        special={**SPECIAL, "pattern": put},
    )
    for each in not_made:
        messages.error(
            request, gettext("The pattern was not added. {sentence}").format(sentence=each.sentence)
        )
    if not not_made:
        messages.success(request, gettext("The pattern was added as the last task of this draft."))
    return redirect("programmes:compose", pk=pk)


def _library(account: User, client: Client) -> list[Any]:
    """Return programmes to start from, besides the starting ones: the clinic's library, and other
    clients' programmes in force."""
    kept = [
        {
            "code": f"library:{each.pk}",
            "name": each.name,
            "family": gettext("library, version {version}, {by}").format(
                version=each.version, by=each.author.get_full_name()
            ),
            "also": gettext("library programme"),
        }
        for each in library_of(account, LibraryEntry.Kind.PROGRAMME)
    ]
    others = account.visible_clients().exclude(pk=client.pk).filter(archived_at=None)
    others = others.filter(programmes__withdrawn_at=None).distinct()
    return kept + [
        {
            "code": f"client:{each.pk}",
            "name": each.name,
            "family": gettext("programme of another client"),
            "also": each.occupation,
        }
        for each in others.order_by("name")
    ]


def offered_tasks(tasks: Iterable[Task]) -> list[dict[str, Any]]:
    """Return the tasks that the palette offers, with all the words that find each."""
    return [
        {
            "code": task.code,
            "name": task.name,
            "family": translate(FAMILIES[task.family]),
            "also": _search_words(task),
            "synonyms": synonyms().get(task.code, ()),
        }
        for task in tasks
    ]


def _search_words(task: Task) -> str:
    """Return further search words of a task: its sound, its shape, the props
    it needs."""
    parts = [translate(FAMILIES[task.family]), task.sound, task.shape, task.purpose, *task.props]
    parts += [task.code, task.also]
    return " ".join(part.replace("_", " ") for part in parts if part)


def _parse_edits(request: SignedInRequest) -> tuple[str, str, list[SentEdit]] | None:
    """Return the page, the item with an open panel, and the edits; None if the request is
    damaged."""
    try:
        body = read_json(request.body, most_bytes=LARGEST_PROGRAMME)
        edits = [
            SentEdit(
                int(each["number"]), int(each["seen"]), dict(each["edit"]), bool(each.get("sure"))
            )
            for each in body["edits"]
        ]
        page = str(body["page"])
    except (KeyError, TypeError, ValueError):
        return None
    numbers = [value for each in edits for value in (each.number, each.seen)]
    if not _PAGE.fullmatch(page) or len(edits) > MOST_EDITS or any(n < 0 for n in numbers):
        return None
    return page, str(body.get("chosen", ""))[:40], edits


def _answer(
    request: SignedInRequest,
    client: Client,
    document: dict[str, Any],
    tasks: dict[str, Task],
    edition: int,
    chosen: str,
    not_made: list[Any] | tuple[()] = (),
) -> HttpResponse:
    stage = _stage(client, document, tasks, request.user, chosen=chosen[:40])
    return JsonResponse(
        {
            "stage": render_to_string("programmes/_composer.html", stage),
            "edition": edition,
            "not_made": [asdict(each) for each in not_made],
        }
    )


def _stage(
    client: Client, document: Any, tasks: dict[str, Task], account: User, chosen: str = ""
) -> dict[str, Any]:
    prescribed = programme_from(document)
    shown = presenters.composer(prescribed, client=client, tasks=tasks, chosen=chosen)
    shown["programme"] = current_programme(client)
    shown["has_draft"] = bool(prescribed.items) and document != document_in_force(client)
    item = prescribed.item(chosen)
    shown["panel"] = item_panel(item, client, tasks, account, prescribed.wording) if item else None
    if item and prescribed.beside:
        names = [(each["id"], each["name"]) for each in shown["strands"]]
        shown["panel"]["strands"] = names
    for strand in shown["strands"]:
        dose = strand["own"].dose
        strand["days"] = [(at, name, at in dose.weekdays) for at, name in enumerate(WEEKDAYS)]
        strand["times"] = " ".join(f"{each:%H:%M}" for each in dose.times)
        strand["off"] = " ".join(day.isoformat() for day in dose.off)
        strand["at"] = f"beside:{strand['id']}:" if strand["id"] else ""
    shown["besides"] = [
        (code, each.name)
        for code, each in beside_programmes().items()
        if code not in prescribed.beside
    ]
    shown |= {"sorts": SORTS.items(), "schools": SCHOOLS.items(), "day_words": DAY_WORDS.items()}
    shown["dose_kinds"] = DOSE_KINDS.items()
    shown["wordings"], shown["wording"] = WORDINGS.items(), prescribed.wording
    shown["answers"] = [
        (voice.value, words, prescribed.answers[voice].value)
        for voice, words in VOICE_WORDS.items()
    ]
    return shown


@clinician_only
@require_POST
def keep_in_library(request: SignedInRequest, pk: int) -> HttpResponse:
    """Store the draft, or the version in force, in the library without the client's data."""
    client = client_seen_by(request.user, pk)
    name = request.POST.get("name", "").replace("\x00", "").strip()[:60]
    document, _ = clean_document(draft_document(client), tasks=all_tasks(client.clinic))
    if not name or not document or not document["items"]:
        messages.error(
            request, gettext("Nothing was saved. Enter a name and add at least one task.")
        )
    else:
        made = keep(
            client.clinic,
            kind=LibraryEntry.Kind.PROGRAMME,
            name=name,
            data=programme_document(without_client_details(programme_from(document))),
            shared=bool(request.POST.get("shared")),
            by=request.user,
        )
        messages.success(
            request,
            gettext("“{name}” was saved to the library, version {version}.").format(
                name=made.name, version=made.version
            ),
        )
    return redirect("programmes:compose", pk=pk)


@clinician_only
@require_GET
def confirm(request: SignedInRequest, pk: int) -> HttpResponse:
    """Show the changes that publishing the draft makes for the client, for confirmation."""
    client = client_seen_by(request.user, pk)
    context = confirming.draft_changes(client, today=timezone.localdate())
    return render(request, "programmes/_hand_over.html", context)


@clinician_only
@require_POST
def publish(request: SignedInRequest, pk: int) -> HttpResponse:
    """Publish the draft as the next version."""
    client = client_seen_by(request.user, pk)
    reason = request.POST.get("reason", "").replace("\x00", "").strip()[:500]
    try:
        seen = int(request.POST.get("seen") or -1)
        programme = actions.publish_draft(client, by=request.user, seen=seen, reason=reason)
    except (ValueError, actions.ChangedSince):
        messages.error(
            request,
            gettext(
                "Nothing was prescribed: another person changed the draft. Check the current draft "
                "below and prescribe it again."
            ),
        )
    except _REFUSALS as refused:
        messages.error(request, _refusal_words(client, refused))
    else:
        return redirect("programmes:version", pk=pk, version=programme.version)
    return redirect("programmes:compose", pk=pk)


_REFUSALS = (actions.NotCleared, actions.OpenStops, actions.EmptyProgramme)


def _refusal_words(client: Client, refused: NotCleared | EmptyProgramme | OpenStops) -> str:
    """Return why nothing was published, and what to do."""
    if isinstance(refused, actions.NotCleared):
        return gettext("Nothing was prescribed. {value}").format(value=BLOCKS[refused.blocks[0]])
    if isinstance(refused, actions.OpenStops):
        words = finding_words(refused.findings[0], spelling=Spelling(client.spelling))
        return gettext(
            "The programme check found a stop: {words} Change the task, or accept it with a reason."
        ).format(words=words)
    return gettext("Nothing to prescribe yet. Add a task first.")


@clinician_only
@require_POST
def withdraw(request: SignedInRequest, pk: int, version: int) -> HttpResponse:
    """Withdraw the version in force; its practice is kept."""
    client = client_seen_by(request.user, pk)
    programme = version_of(client, version)
    if programme != current_programme(client):
        messages.error(
            request,
            gettext("Programme {version} is not in force. Nothing was withdrawn.").format(
                version=version
            ),
        )
        return redirect("programmes:versions", pk=pk)
    actions.withdraw(programme, by=request.user)
    stands = current_programme(client)
    now = (
        gettext("Programme {version} is in force again.").format(version=stands.version)
        if stands
        else (gettext("No programme is in force now."))
    )
    messages.success(
        request, gettext("Programme {version} is withdrawn. {now}").format(version=version, now=now)
    )
    return redirect("programmes:versions", pk=pk)


@clinician_only
@require_POST
def republish(request: SignedInRequest, pk: int, version: int) -> HttpResponse:
    """Publish an older version again as the next version; the draft stays."""
    client = client_seen_by(request.user, pk)
    try:
        made = actions.publish_again(version_of(client, version), by=request.user)
    except _REFUSALS as refused:
        messages.error(request, _refusal_words(client, refused))
    else:
        messages.success(
            request,
            gettext(
                "Programme {version} is in force, with the content of programme {version_2}."
            ).format(version=made.version, version_2=version),
        )
    return redirect("programmes:versions", pk=pk)


@looking
def versions(request: SignedInRequest, pk: int) -> HttpResponse:
    """Show every version with its changes."""
    client = client_seen_by(request.user, pk)
    tasks = all_tasks(client.clinic)
    newest_first = list(
        client.programmes.select_related("published_by", "withdrawn_by").prefetch_related("tasks")
    )
    lines = []
    for place, programme in enumerate(newest_first):
        older = newest_first[place + 1] if place + 1 < len(newest_first) else None
        changes = differences(
            older.prescribed if older else None,
            programme.prescribed,
            tasks=tasks,
            spelling=Spelling(client.spelling),
        )
        lines.append({"programme": programme, "changes": changes if older else []})
    context = {"client": client, "lines": lines, "in_force": current_programme(client)}
    return render(request, "programmes/versions.html", context)
