"""Targets proposed for a client, from the newest sheet."""

from reedcore.safety import Hazard
from reedcore.targets.from_baseline import figures_from
from reedcore.targets.proposing import HistoryProposals, TargetKind, proposed_targets
from web.clients.models import Client

from .models import Baseline
from .summaries import summary_of


def proposals_for(client: Client) -> tuple[Baseline | None, dict[TargetKind, HistoryProposals]]:
    """Return the sheet, and a proposal (or the reason for none) for each kind of target."""
    baseline = client.baselines.select_related("client__clinic", "begun_by").first()
    if baseline is None:
        return None, {}
    found = summary_of(baseline)
    forbidden = {each.hazard for each in client.forbidden(on=found.on)}
    figures = figures_from(
        found,
        voice=client.voice,
        may_be_loud=Hazard.LOUD not in forbidden,
        a4_hz=client.clinic.a4_hz,
    )
    return baseline, proposed_targets(figures)
