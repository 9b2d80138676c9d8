"""The record, the screen and the clinic's own table, as they are typed."""

from django import forms
from django.utils import timezone

from reedcore.safety import SCREENED, Caution
from web.accounts.models import User
from web.ui.forms import AsksWhenOdd, DescribedForm

from .models import Client, ReferenceFigure
from .wording import CAUTION_QUESTIONS, FLAG_QUESTIONS, MEASURES, PROPS

OLDEST_YEARS = 115
#: (upper age, band): the first that is not too young.
_BANDS = ((18, "under-18"), (40, "18-39"), (60, "40-59"), (75, "60-74"), (200, "75+"))


def age_band(born_on, today) -> str:
    """The band a date of birth falls in."""
    years = today.year - born_on.year - ((today.month, today.day) < (born_on.month, born_on.day))
    return next(band for limit, band in _BANDS if years < limit)


DATES = ("born_on", "examined_on", "voice_changed_on", "voice_rest_until", "loud_from")


class DateInput(forms.DateInput):
    input_type = "date"

    def __init__(self, **kwargs):
        super().__init__(format="%Y-%m-%d", **kwargs)


class RecordForm(DescribedForm, AsksWhenOdd, forms.ModelForm):
    """All of a client's record but the cautions, which the screen asks for."""

    edition = forms.IntegerField(required=False, widget=forms.HiddenInput)
    props = forms.MultipleChoiceField(
        label="Owns",
        required=False,
        choices=list(PROPS.items()),
        widget=forms.CheckboxSelectMultiple,
    )

    class Meta:
        model = Client
        fields = [
            "name", "voice", "age_band", "born_on", "pronouns", "occupation", "voice_demands",
            "goals", "clinician", "diagnosis", "referrer", "referral_reason",
            "laryngeal_finding", "examined_on",
            "voice_changed_on", "voice_rest_until", "loud_from", "spelling", "contact",
            "contact_detail", "reminders", "time_zone", "props",
        ]  # fmt: skip
        widgets = {
            **dict.fromkeys(
                ("born_on", "examined_on", "voice_changed_on", "voice_rest_until", "loud_from"),
                DateInput,
            ),
            **{
                name: forms.Textarea(attrs={"rows": 2})
                for name in ("voice_demands", "goals", "referral_reason", "laryngeal_finding")
            },
        }
        help_texts = {
            "born_on": "Only if the clinic needs it; the age band then follows from it.",
            "loud_from": "The surgeon’s recorded date, after surgery or haemorrhage.",
        }

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        own = User.objects.filter(
            clinic=self.instance.clinic, role=User.Role.CLINICIAN, is_active=True
        )
        self.fields["clinician"].queryset = own
        self.fields["clinician"].label_from_instance = lambda user: (
            user.get_full_name() or user.username
        )

    def clean_born_on(self):
        """Not to come, and not before anybody alive."""
        return self._past("born_on", "A date of birth cannot lie in the future.")

    def clean_examined_on(self):
        return self._past("examined_on", "An examination that is still to come is not one yet.")

    def clean_voice_changed_on(self):
        return self._past("voice_changed_on", "A change cannot lie in the future.")

    def _past(self, name, words):
        day, today = self.cleaned_data[name], timezone.localdate()
        if day is None:
            return None
        if day > today:
            raise forms.ValidationError(words)
        if (today - day).days > OLDEST_YEARS * 366:
            raise forms.ValidationError(f"{day.year} is too long ago: check the year.")
        return day

    def clean(self):
        """Fills the age band in from the date of birth, and asks about odd dates."""
        born_on = self.cleaned_data.get("born_on")
        if born_on:
            self.cleaned_data["age_band"] = age_band(born_on, timezone.localdate())
            if (timezone.localdate() - born_on).days < 3 * 365:
                self.ask_about("the client would be under three years old")
        for name in ("voice_rest_until", "loud_from"):
            day = self.cleaned_data.get(name)
            if day and abs((day - timezone.localdate()).days) > 2 * 366:
                self.ask_about(f"{day:%-d %B %Y} is more than two years away")
        return super().clean()


class ScreenForm(forms.Form):
    """Every question has to be answered: a blank is not a no."""

    note = forms.CharField(
        required=False, max_length=2000, widget=forms.Textarea(attrs={"rows": 2})
    )

    def __init__(self, *args, cautions=(), **kwargs):
        super().__init__(*args, **kwargs)
        for code, words in (
            *((f"flag_{flag.value}", FLAG_QUESTIONS[flag]) for flag in SCREENED),
            *((f"caution_{caution.value}", CAUTION_QUESTIONS[caution]) for caution in Caution),
        ):
            self.fields[code] = forms.ChoiceField(
                label=words,
                choices=[("no", "no"), ("yes", "yes")],
                widget=forms.RadioSelect,
                error_messages={"required": "Not answered yet."},
            )
        for code in cautions:
            self.initial[f"caution_{code}"] = "yes"

    def _asked(self, prefix):
        return [self[name] for name in self.fields if name.startswith(prefix)]

    @property
    def flag_fields(self):
        return self._asked("flag_")

    @property
    def caution_fields(self):
        return self._asked("caution_")

    def said(self, prefix):
        """Codes of the questions that were answered with yes."""
        return [
            name.removeprefix(prefix)
            for name, answer in self.cleaned_data.items()
            if name.startswith(prefix) and answer == "yes"
        ]


class ReasonForm(forms.Form):
    """Why it is safe to go on."""

    because = forms.CharField(
        label="Why it is safe to go on",
        min_length=10,
        max_length=2000,
        widget=forms.Textarea(attrs={"rows": 3}),
        error_messages={
            "required": "Write why it is safe: whoever reads the record next has to judge it.",
            "min_length": "Write a sentence: whoever reads the record next has to judge it.",
        },
    )


class ReferForm(forms.Form):
    """To whom the client is sent."""

    to = forms.CharField(
        label="Refer to", max_length=160, error_messages={"required": "Say to whom."}
    )


class ReferenceForm(DescribedForm, forms.ModelForm):
    """One row of the reference table."""

    measure = forms.ChoiceField(
        choices=[(code, f"{label}, {unit}") for code, (label, unit) in MEASURES.items()]
    )

    class Meta:
        model = ReferenceFigure
        fields = ["measure", "age_band", "voice", "low", "high", "source"]

    def clean(self):
        """At least one end, in the right order, and one row a group."""
        cleaned = super().clean()
        low, high = cleaned.get("low"), cleaned.get("high")
        if low is None and high is None:
            raise forms.ValidationError("Give at least one end of the usual range.")
        if low is not None and high is not None and low > high:
            raise forms.ValidationError("The lower end lies above the upper one.")
        return cleaned
