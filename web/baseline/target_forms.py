"""Changing or refusing a proposed target, with the reason."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django import forms
from django.http import QueryDict
from django.utils.translation import gettext

from reedcore.devices.levels import CEILING_ABOVE_FLOOR_DB
from reedcore.errors import Refusal
from reedcore.pitch import Note, Spelling
from reedcore.targets import SecondsKind
from reedcore.targets.proposing import TargetKind
from web.ui.forms import FiniteFloatField
from web.ui.marked import WordList, gettext_noop
from web.ui.wording import sentence

from .wording import FIGURES

if TYPE_CHECKING:
    from reedcore.targets.proposing import TargetProposal
    from web.clients.models import Client

#: Allowed range of each target figure.
BOUNDS = {
    "goal_s": (1.0, 90.0),
    "stage_s": (1.0, 90.0),
    "today_s": (0.5, 90.0),
    "spread_cents": (5.0, 200.0),
    "level_spread_db": (0.5, 12.0),
    "end_fall_db": (0.5, 20.0),
    "floor_db": (-20.0, 40.0),
    "ceiling_db": (-20.0, 40.0),
}
COUNTS = WordList(
    [
        (SecondsKind.TOTAL.value, gettext_noop("total duration")),
        (SecondsKind.STEADY.value, gettext_noop("steady duration")),
    ]
)


class ChangeForm(forms.Form):
    """The proposal's own figures for editing, or only the reason for a refusal."""

    def __init__(
        self, data: QueryDict | None = None, *, proposal: Any, client: Client, refuses: bool = False
    ) -> None:
        prefix = proposal.kind.value
        super().__init__(data, prefix=prefix)
        self.proposal = proposal
        spelling = Spelling(client.spelling)
        if not refuses:
            self._add_figures(proposal, spelling)
        self.fields["reason"] = forms.CharField(
            label=gettext("Why"),
            max_length=500,
            error_messages={"required": gettext("Enter a short reason.")},
        )

    def _add_figures(self, proposal: TargetProposal, spelling: Spelling) -> None:
        notes = proposal.notes
        if notes is not None:
            self.fields["warm_up"] = forms.CharField(
                label=gettext("Warm-up note"), max_length=8, initial=notes.warm_up.name(spelling)
            )
            self.fields["power"] = forms.CharField(
                label=gettext("Power notes"), max_length=60,
                initial=" ".join(note.name(spelling) for note in notes.power),
            )  # fmt: skip
            return
        for name, value in proposal.values:
            label, unit, _ = FIGURES[name]
            lowest, highest = BOUNDS[name]
            self.fields[name] = FiniteFloatField(
                label=f"{label.capitalize()}, {unit}", initial=f"{value:g}", min_value=lowest,
                max_value=highest, widget=forms.TextInput(attrs={"inputmode": "decimal"}),
            )  # fmt: skip
        if proposal.kind is TargetKind.HOLD:
            self.fields["counts"] = forms.ChoiceField(
                label=gettext("Seconds counted"), choices=COUNTS
            )

    def clean(self) -> Any:
        """Note that are notes; a floor that has its ceiling, no further above than is safe."""
        super().clean()
        cleaned = self.cleaned_data
        for name in ("warm_up", "power"):
            if cleaned.get(name):
                try:
                    cleaned[name] = [Note.named(word) for word in cleaned[name].split()]
                except Refusal as refusal:
                    self.add_error(name, sentence(refusal))
        floor, ceiling = cleaned.get("floor_db"), cleaned.get("ceiling_db")
        if floor is not None and ceiling is not None:
            if ceiling <= floor:
                self.add_error("ceiling_db", gettext("The ceiling must be above the floor."))
            elif ceiling > floor + CEILING_ABOVE_FLOOR_DB:
                words = gettext(
                    "The ceiling can be at most {value:.0f} dB above the floor."
                ).format(value=CEILING_ABOVE_FLOOR_DB)
                self.add_error("ceiling_db", words)
        today, goal = cleaned.get("today_s"), cleaned.get("goal_s")
        if today is not None and goal is not None and today > goal:
            self.add_error("today_s", gettext("Today’s target is beyond the goal."))
        return cleaned


def changed_values(form: ChangeForm, proposal: TargetProposal) -> dict[str, float]:
    """Return the form's values in the format of a proposal."""
    cleaned = form.cleaned_data
    if proposal.kind is TargetKind.NOTES:
        power = sorted(cleaned["power"])
        return {
            "warm_up_midi": float(cleaned["warm_up"][0].midi),
            **{f"power_{at}_midi": float(note.midi) for at, note in enumerate(power, 1)},
        }
    return {name: cleaned[name] for name, _ in proposal.values}
