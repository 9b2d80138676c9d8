"""Forms for uploads from a client's device other than live sound."""

from __future__ import annotations

from functools import lru_cache
from itertools import pairwise
from typing import Any

from django import forms
from django.contrib.auth.password_validation import CommonPasswordValidator
from django.utils.translation import gettext, gettext_lazy

from .simulated import MANNERS

#: Short enough to remember, long enough for the allowed attempts.
PIN_DIGITS = (6, 12)
_DIGITS = {"inputmode": "numeric", "autocomplete": "off"}


class CodeForm(forms.Form):
    """The code on the handout."""

    code = forms.CharField(
        label=gettext_lazy("Your code"),
        max_length=20,
        widget=forms.TextInput(attrs={"autofocus": True, "autocapitalize": "none"}),
        error_messages={"required": gettext_lazy("Type the code from your paper.")},
    )


class PinForm(forms.Form):
    """The PIN that goes with a practice link."""

    pin = forms.CharField(
        label=gettext_lazy("Your PIN"),
        max_length=12,
        widget=forms.PasswordInput(attrs={**_DIGITS, "autofocus": True}),
        error_messages={"required": gettext_lazy("Type your PIN.")},
    )
    remember = forms.BooleanField(
        label=gettext_lazy("Remember me on this device"),
        required=False,
        help_text=gettext_lazy("Only on your own device."),
    )

    def __init__(self, *args: Any, shared: bool = False, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.shared = shared
        if shared:
            del self.fields["remember"]


@lru_cache(maxsize=1)
def _common() -> frozenset[str]:
    """Return the commonest passwords that are digits, out of twenty thousand."""
    return frozenset(each for each in CommonPasswordValidator().passwords if each.isdigit())


def _is_common_pin(pin: str) -> bool:
    """Return whether a PIN is a common one, a run up or down, or a short piece over and over."""
    steps = {(int(after) - int(before)) % 10 for before, after in pairwise(pin)}
    pieces = any(pin == (pin[:n] * len(pin))[: len(pin)] for n in (1, 2, 3))
    doubled = len(pin) % 2 == 0 and all(a == b for a, b in zip(pin[::2], pin[1::2], strict=True))
    return len(steps) == 1 or pieces or doubled or pin in _common()


class ChoosePinForm(PinForm):
    """A PIN of the client's own choosing, typed twice."""

    again = forms.CharField(
        label=gettext_lazy("Repeat the PIN"),
        max_length=12,
        widget=forms.PasswordInput(attrs=_DIGITS),
        error_messages={"required": gettext_lazy("Type the PIN again.")},
    )
    field_order = ("pin", "again", "remember")

    def clean_pin(self) -> str | None:
        """Require digits only, and reject common PINs."""
        pin = self.cleaned_data["pin"].strip()
        shortest, longest = PIN_DIGITS
        if not (pin.isascii() and pin.isdigit()) or not shortest <= len(pin) <= longest:
            raise forms.ValidationError(
                gettext("A PIN has {shortest} to {longest} digits.").format(
                    shortest=shortest, longest=longest
                )
            )
        if _is_common_pin(pin):
            raise forms.ValidationError(gettext("This PIN is easy to guess. Choose another."))
        return pin

    def clean(self) -> Any:
        """Require both to be equal."""
        super().clean()
        cleaned = self.cleaned_data
        if (
            cleaned.get("pin")
            and cleaned.get("again")
            and cleaned["pin"] != cleaned["again"].strip()
        ):
            self.add_error("again", gettext("The two PINs are different. Type both again."))
        return cleaned


class ReplacePinForm(ChoosePinForm):
    """A PIN instead of the one before."""

    old = forms.CharField(
        label=gettext_lazy("Current PIN"),
        max_length=12,
        widget=forms.PasswordInput(attrs={**_DIGITS, "autofocus": True}),
        error_messages={"required": gettext_lazy("Type your current PIN.")},
    )
    field_order = ("old", "pin", "again")

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["pin"].label = gettext("New PIN")
        self.fields["pin"].widget.attrs.pop("autofocus")


class SimulatedForm(forms.Form):
    """Form for the behaviour of the simulated voice."""

    manner = forms.ChoiceField(choices=[(name, name) for name in MANNERS])
    seed = forms.IntegerField(min_value=0, max_value=2**31 - 1)
    number = forms.IntegerField(min_value=1, max_value=60, required=False)
