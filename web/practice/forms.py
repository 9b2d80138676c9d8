"""What a client's device hands in besides live sound."""

from django import forms

from .actions import BY_HAND_S
from .simulated import MANNERS


class PinForm(forms.Form):
    """The PIN that goes with a practice link."""

    pin = forms.CharField(
        label="Your PIN",
        max_length=12,
        widget=forms.PasswordInput(
            attrs={"inputmode": "numeric", "autocomplete": "current-password", "autofocus": True}
        ),
        error_messages={"required": "Type the PIN your clinician gave you."},
    )


class ByHandForm(forms.Form):
    """A hold timed with the stopwatch."""

    key = forms.UUIDField()
    seconds = forms.FloatField(
        min_value=BY_HAND_S[0],
        max_value=BY_HAND_S[1],
        error_messages={
            "min_value": "That was too short to time by hand. Press again to start, and once more "
            "when the sound ends.",
            "max_value": "That is longer than any hold. The stopwatch was left running; "
            "time it again.",
            "invalid": "The stopwatch gave no time. Try again.",
        },
    )


class SimulatedForm(forms.Form):
    """How the simulated voice is to behave."""

    manner = forms.ChoiceField(choices=[(name, name) for name in MANNERS])
    seed = forms.IntegerField(min_value=0, max_value=2**31 - 1)
