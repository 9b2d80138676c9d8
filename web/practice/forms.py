"""What a client's device hands in besides live sound."""

from django import forms
from django.conf import settings

from .simulated import MANNERS

#: Few enough to remember, too many to guess within the tries that are allowed.
PIN_DIGITS = (4, 8)
_DIGITS = {"inputmode": "numeric", "autocomplete": "off"}


class CodeForm(forms.Form):
    """The code that stands on the handout."""

    code = forms.CharField(
        label="Your code",
        max_length=20,
        widget=forms.TextInput(attrs={"autofocus": True, "autocapitalize": "none"}),
        error_messages={"required": "Type the code that stands on your paper."},
    )


class PinForm(forms.Form):
    """The PIN that goes with a practice link."""

    pin = forms.CharField(
        label="Your PIN",
        max_length=12,
        widget=forms.PasswordInput(attrs={**_DIGITS, "autofocus": True}),
        error_messages={"required": "Type your PIN."},
    )
    remember = forms.BooleanField(
        label="Remember me on this device",
        required=False,
        help_text="Only on a device of your own.",
    )


class ChoosePinForm(PinForm):
    """A PIN of the client's own choosing, typed twice."""

    again = forms.CharField(
        label="The same PIN again",
        max_length=12,
        widget=forms.PasswordInput(attrs=_DIGITS),
        error_messages={"required": "Type it once more, to be sure."},
    )
    field_order = ("pin", "again", "remember")

    def clean_pin(self):
        """Digits, and not all the same one."""
        pin = self.cleaned_data["pin"].strip()
        shortest, longest = PIN_DIGITS
        if not pin.isdigit() or not shortest <= len(pin) <= longest:
            raise forms.ValidationError(f"A PIN is {shortest} to {longest} digits.")
        if len(set(pin)) == 1 or pin in "0123456789" or pin in "9876543210":
            raise forms.ValidationError("That one is guessed first. Choose another.")
        return pin

    def clean(self):
        """The two are one."""
        said = super().clean()
        if said.get("pin") and said.get("again") and said["pin"] != said["again"].strip():
            self.add_error("again", "The two are not the same. Type both again.")
        return said


class EntryForm(forms.Form):
    """One entry of a session, with its sound where it has one."""

    entry = forms.CharField(max_length=20_000)
    recording = forms.FileField(required=False, allow_empty_file=True)

    def clean_recording(self):
        """Refuses a file too large to be a try before anything reads it."""
        upload = self.cleaned_data["recording"]
        if upload and upload.size > settings.LARGEST_UPLOAD_BYTES:
            megabytes = settings.LARGEST_UPLOAD_BYTES // 1024**2
            raise forms.ValidationError(
                f"This file is larger than {megabytes} MB. Cut out the try itself and choose that."
            )
        return upload


class SimulatedForm(forms.Form):
    """How the simulated voice is to behave."""

    manner = forms.ChoiceField(choices=[(name, name) for name in MANNERS])
    seed = forms.IntegerField(min_value=0, max_value=2**31 - 1)
