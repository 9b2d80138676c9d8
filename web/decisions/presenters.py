"""Recent decisions in words."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.utils.translation import gettext

from reedcore.decisions import Step
from reedcore.progress import VoiceLoad

from .wording import STEPS

if TYPE_CHECKING:
    from web.clients.models import Client


def decisions(client: Client) -> list[Any]:
    """Return the last decisions, each with its step in words."""
    found = list(
        client.decisions.select_related("decided_by", "created_version").only(
            "step",
            "accepted",
            "refusal_reason",
            "decided_at",
            "client",
            "decided_by__first_name",
            "decided_by__last_name",
            "decided_by__username",
            "created_version__version",
        )[:5]
    )
    for each in found:
        each.__dict__["words"] = STEPS[Step(each.step)]
    return found


def practice_words(fortnight: dict, load: VoiceLoad | None = None) -> str:
    """Return adherence in words: sessions of the fortnight, voicing of the week as a share of the
    prescribed and in total."""
    phrases = []
    if fortnight.get("adherence") is not None:
        phrases.append(
            gettext("{adherence:.0%} of the sessions due in 14 days").format(
                adherence=fortnight["adherence"]
            )
        )
    dose = fortnight.get("dose") or {}
    if dose.get("received") is not None:
        phrases.append(
            gettext(
                "{received:.0%} of the weekly voicing dose ({value:.1f} of {value_2:.1f} min)"
            ).format(
                received=dose["received"],
                value=dose["held_s"] / 60,
                value_2=dose["prescribed_s"] / 60,
            )
        )
    if load is not None:
        phrases.append(
            gettext(
                "{voiced_s:.1f} min of voicing measured in a week (with extra practice), "
                "about {two_figures:,} vibrations"
            ).format(voiced_s=load.voiced_s / 60, two_figures=_two_figures(load.cycles))
        )
    return "; ".join(phrases)


def _two_figures(value: float) -> int:
    """Round to two significant figures, the precision of a count of vibrations."""
    return int(float(f"{value:.1e}"))
