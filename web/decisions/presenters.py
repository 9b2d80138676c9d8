"""What was decided lately, in words."""

from reedcore.decisions import Step

from .wording import STEPS


def decisions(client):
    """The last decisions, each with its step in words."""
    found = list(client.decisions.select_related("decided_by", "made", "task")[:5])
    for each in found:
        each.words = STEPS[Step(each.step)].lower()
    return found
