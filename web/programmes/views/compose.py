"""The composer: the page edits a document, and each edit comes back drawn, counted and checked."""

from django.contrib import messages
from django.http import JsonResponse
from django.shortcuts import redirect, render
from django.template.loader import render_to_string
from django.utils import timezone
from django.views.decorators.http import require_GET, require_POST

from reedcore.catalogue.schema import FAMILIES
from reedcore.catalogue.tasks import shipped_ladders, shipped_material
from reedcore.pitch import Note, Spelling
from reedcore.programme.document import (
    LARGEST_PROGRAMME,
    answers_of,
    cleaned,
    empty_document,
    new_item,
)
from web.accounts.access import clinician_only
from web.catalogue.queries import every_task, tasks_for
from web.clients.queries import blocks, client_seen_by, targets_in_force
from web.clients.wording import BLOCKS
from web.programmes.person import person_of
from web.programmes.wording import FEEDBACK, SCHOOLS, SORTS
from web.ui.incoming import read_json

from .. import actions, presenters
from ..difference import LIMIT_NAMES, differences
from ..queries import current_programme
from ..starting import STARTING, started
from ..wording import DAY_WORDS, VOICE_WORDS, finding_words, problem_words

DAYS = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")


def opened(client):
    """The draft, else the newest version's document, else nothing yet."""
    draft = getattr(client, "draft", None)
    return draft.document if draft else _in_force(client)


def _in_force(client):
    """The document of the version in force; an empty one where there is none."""
    programme = current_programme(client)
    if programme and programme.document:
        return programme.document
    return empty_document(timezone.localdate())


@clinician_only
@require_GET
def compose(request, pk):
    """The page; everything on it but the frame comes from `edit`."""
    client = client_seen_by(request.user, pk)
    tasks = every_task(client.clinic)
    document, _ = cleaned(opened(client), tasks=tasks)
    document = document or empty_document(timezone.localdate())
    offered = [
        {
            "code": task.code,
            "name": task.name,
            "family": FAMILIES[task.family],
            "cools": task.family == "cooldown",
            "item": new_item(task, id="new"),
        }
        for task in tasks_for(client.clinic).values()
    ]
    ladders = {
        code: {"changes": each.changes, "rungs": each.rungs}
        for code, each in shipped_ladders().items()
    }
    programme = current_programme(client)
    context = {
        **_stage(client, document, tasks),
        "programme": programme,
        "starting": [(code, name) for code, (name, _, _) in STARTING.items()],
        "page_data": {
            "document": document,
            "tasks": offered,
            "ladders": ladders,
            "loud": [code for code, task in tasks.items() if task.is_loud],
            "task_ladders": {code: task.ladder for code, task in tasks.items()},
        },
        "blocks": [BLOCKS[each] for each in blocks(client, on=timezone.localdate())],
        "has_draft": hasattr(client, "draft"),
    }
    return render(request, "programmes/compose.html", context)


@clinician_only
@require_POST
def edit(request, pk):
    """A changed document: kept as the draft, and sent back drawn, counted and checked."""
    client = client_seen_by(request.user, pk)
    tasks = every_task(client.clinic)
    try:
        sent = read_json(request.body, most_bytes=LARGEST_PROGRAMME)
    except ValueError:
        return JsonResponse(
            {"sentence": "The edit did not arrive whole. Try it again."}, status=422
        )
    document, problems = cleaned(
        sent.get("document") if isinstance(sent, dict) else None, tasks=tasks
    )
    if problems:
        return JsonResponse({"sentence": problem_words(problems[0])}, status=422)
    actions.save_draft(client, document, by=request.user)
    stage = _stage(client, document, tasks, chosen=str(sent.get("chosen", ""))[:40])
    return JsonResponse(
        {"stage": render_to_string("programmes/_composer.html", stage), "document": document}
    )


def _stage(client, document, tasks, chosen=""):
    shown = presenters.composer(document, client=client, tasks=tasks, chosen=chosen)
    item = next((each for each in document["items"] if each["id"] == chosen), None)
    shown["panel"] = _panel(item, tasks[item["task"]], client, tasks) if item else None
    shown["days"] = [(at, name, at in document["dose"]["weekdays"]) for at, name in enumerate(DAYS)]
    shown |= {"sorts": SORTS.items(), "schools": SCHOOLS.items(), "day_words": DAY_WORDS.items()}
    shown["answers"] = [
        (voice.value, words, answers_of(document)[voice].value)
        for voice, words in VOICE_WORDS.items()
    ]
    return shown


def _panel(item, task, client, tasks):
    """What can be changed of one item."""
    spelling = Spelling(client.spelling)
    ladder = shipped_ladders().get(task.ladder)
    value = item["params"].get(ladder.changes) if ladder else None
    place = ladder.place_of(value) if ladder and value is not None else None
    return {
        "item": item,
        "task": task,
        "notes": " ".join(Note(midi).name(spelling) for midi in item["notes"]),
        "params": [
            (name, parameter, item["params"].get(name, parameter.default))
            for name, parameter in task.parameters.items()
        ],
        "ladder": ladder,
        "rungs": [(label, at == place) for at, label in enumerate(ladder.labels)] if ladder else [],
        "by_choice": ladder is not None and ladder.by_choice is not None,
        "row": " ".join(f"{seconds:g}" for seconds in item["row"]),
        "lines": "\n".join(item["lines"]),
        "material": shipped_material().get(task.material, ()),
        "equals": [(code, tasks[code].name) for code in task.equals if code in tasks],
        "substitutes": [(code, tasks[code].name) for code in task.substitutes if code in tasks],
        "feedback": FEEDBACK.items(),
        "limits": [
            (name, words, item.get("limits", {}).get(name)) for name, words in LIMIT_NAMES.items()
        ]
        if task.measure == "hold"
        else [],
        "is_voice": task.measure in ("hold", "glide", "script"),
    }


@clinician_only
@require_POST
def start(request, pk):
    """One of the four starting programmes, to put in place of what the draft holds."""
    client = client_seen_by(request.user, pk)
    code = request.POST.get("code", "")
    if code in STARTING:
        _, found = person_of(client)
        document = started(
            code,
            client=client,
            targets=targets_in_force(client),
            tasks=tasks_for(client.clinic),
            found=found,
            today=timezone.localdate(),
        )
        if request.accepts("application/json") and not request.accepts("text/html"):
            # the page shows it and sends it as an edit, so that it can be undone like any other
            return JsonResponse({"document": document})
        actions.save_draft(client, document, by=request.user)
    return redirect("programmes:compose", pk=pk)


@clinician_only
@require_POST
def discard(request, pk):
    """Forgets the draft; the version in force stands. The page is given that one instead."""
    client = client_seen_by(request.user, pk)
    if request.accepts("application/json") and not request.accepts("text/html"):
        return JsonResponse({"document": _in_force(client)})
    if hasattr(client, "draft"):
        client.draft.delete()
        messages.success(request, "The draft is gone; the programme in force stands.")
    return redirect("programmes:compose", pk=pk)


@clinician_only
@require_POST
def publish(request, pk):
    """The draft becomes the next version, and is handed over."""
    client = client_seen_by(request.user, pk)
    reason = request.POST.get("reason", "").replace("\x00", "").strip()[:500]
    try:
        programme = actions.publish_document(client, opened(client), by=request.user, reason=reason)
    except actions.NotCleared as refused:
        messages.error(request, f"Nothing was prescribed. {BLOCKS[refused.blocks[0]]}")
    except actions.OpenStops as refused:
        words = finding_words(refused.findings[0], spelling=Spelling(client.spelling))
        messages.error(
            request, f"The check stops it: {words} Change it, or write why it should be so."
        )
    except actions.Nothing:
        messages.error(request, "There is nothing to hand over yet: add a task first.")
    else:
        return redirect("programmes:version", pk=pk, version=programme.version)
    return redirect("programmes:compose", pk=pk)


@clinician_only
def versions(request, pk):
    """Every version, each with what it changed."""
    client = client_seen_by(request.user, pk)
    tasks = every_task(client.clinic)
    newest_first = list(
        client.programmes.select_related("published_by", "withdrawn_by").prefetch_related("tasks")
    )
    lines = []
    for place, programme in enumerate(newest_first):
        older = newest_first[place + 1] if place + 1 < len(newest_first) else None
        changes = differences(
            older.document if older else {},
            programme.document,
            tasks=tasks,
            spelling=Spelling(client.spelling),
        )
        lines.append({"programme": programme, "changes": changes if older else []})
    context = {"client": client, "lines": lines, "in_force": current_programme(client)}
    return render(request, "programmes/versions.html", context)
