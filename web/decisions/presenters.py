"""What was decided lately, in words."""

from reedcore.decisions import Step

from .wording import STEPS


def decisions(client):
    """The last decisions, each with its step in words."""
    found = list(client.decisions.select_related("decided_by", "made", "task")[:5])
    for each in found:
        each.words = STEPS[Step(each.step)].lower()
    return found


def practice_words(fortnight: dict) -> str:
    """How much of what was asked was done: sessions of the fortnight, held voice of the week."""
    told = []
    if fortnight.get("adherence") is not None:
        told.append(f"{fortnight['adherence']:.0%} of the sessions due in a fortnight")
    dose = fortnight.get("dose") or {}
    if dose.get("received") is not None:
        told.append(
            f"{dose['received']:.0%} of the held voice asked for in a week "
            f"({dose['held_s'] / 60:.1f} of {dose['prescribed_s'] / 60:.1f} min)"
        )
    return "; ".join(told)
