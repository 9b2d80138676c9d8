"""Edits of the composer that need more than the document: what the check offers, a starting
programme, and the version in force again."""

from django.utils import timezone

from reedcore.ladders import personal_rungs_s
from reedcore.programme.changes import item_of
from reedcore.programme.edits import Replace, SetField
from reedcore.programme.fixing import edits_of
from web.catalogue.queries import tasks_for
from web.clients.queries import targets_in_force

from .look import second_look
from .person import own_reach, person_of
from .queries import document_in_force
from .starting import STARTING, started
from .typed import Misread


def _fix(draft, raw):
    """What a finding offers; it is looked for anew, for it may be mended already."""
    look = second_look(draft.client, draft.document, draft.tasks)
    for finding, key in zip(look.findings, look.keys, strict=True):
        if key == raw.get("key"):
            return edits_of(finding, draft.document, draft.tasks, id=str(raw.get("id", ""))[:40])
    return ()


def _start(draft, raw):
    """One of the starting programmes, filled in for this client."""
    client, code = draft.client, raw.get("code")
    if code not in STARTING:
        raise Misread("There is no such starting programme.")
    _, found = person_of(client)
    document = started(
        code,
        client=client,
        targets=targets_in_force(client),
        tasks=tasks_for(client.clinic),
        found=found,
        today=timezone.localdate(),
    )
    return (Replace(document),)


def _forget(draft, raw):
    """The version in force, in place of the draft."""
    return (Replace(document_in_force(draft.client)),)


def _own_rungs(draft, raw):
    """Rungs of the client's own, from their best to the goal; or those of everybody again."""
    item = item_of(draft.document, str(raw.get("item", ""))[:40])
    if item.get("rungs"):
        return (SetField(item["id"], "rungs", []),)
    best, goal = own_reach(draft.client, item, draft.tasks)
    if best is None or goal is None:
        raise Misread("For rungs of their own a best of the last fortnight and a goal are wanted.")
    return (SetField(item["id"], "rungs", list(personal_rungs_s(best_s=best, goal_s=goal))),)


SPECIAL = {"own_rungs": _own_rungs, "fix": _fix, "start": _start, "forget": _forget}
