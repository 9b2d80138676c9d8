"""Targets proposed for a client, from the newest sheet."""

from reedcore.targets.proposing import Kind, Proposed, proposed_targets

from .derived import as_figures, derived
from .models import Baseline, Client


def proposals_for(client: Client) -> tuple[Baseline | None, dict[Kind, Proposed]]:
    """The sheet they rest on, and a proposal (or why there is none) for each kind."""
    baseline = client.baselines.select_related("client__clinic", "begun_by").first()
    if baseline is None:
        return None, {}
    found = derived(baseline, list(baseline.trials.all()))
    return baseline, proposed_targets(as_figures(found, client))
