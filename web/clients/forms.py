"""The record, the screen and the clinic's own table, as they are typed."""

from __future__ import annotations

from datetime import date
from typing import Any

from django import forms
from django.db.models import QuerySet
from django.utils import timezone
from django.utils.translation import gettext, gettext_lazy

from reedcore.catalogue.ages import age_in_years
from web.accounts.models import User
from web.ui.dates import full_day
from web.ui.forms import ConfirmImplausibleMixin, DescribedForm, offer_rows

from .models import Client, Helper
from .wording import PROPS

OLDEST_YEARS = 115
#: (upper age, band): use the first one that is not too young.
_BANDS = (
    (13, "under-13"),
    (18, "13-17"),
    (40, "18-39"),
    (60, "40-59"),
    (75, "60-74"),
    (200, "75+"),
)


def age_band(born_on: date, today: date) -> str:
    """Return the band a date of birth falls in."""
    years = age_in_years(born_on, today)
    return next(band for limit, band in _BANDS if years < limit)


DATES = ("born_on", "examined_on", "voice_changed_on", "voice_rest_until", "loud_from")


class DateInput(forms.DateInput):
    input_type = "date"

    def __init__(self, **kwargs: Any) -> None:
        super().__init__(format="%Y-%m-%d", **kwargs)


class RecordForm(DescribedForm, ConfirmImplausibleMixin, forms.ModelForm):
    """All of a client's record but the cautions, which the screen asks for."""

    edition = forms.IntegerField(required=False, widget=forms.HiddenInput)
    props = forms.MultipleChoiceField(
        label=gettext_lazy("Equipment at home"),
        required=False,
        choices=lambda: list(PROPS.items()),
        widget=forms.CheckboxSelectMultiple,
    )

    class Meta:
        model = Client
        fields = [
            "name", "voice", "age_band", "born_on", "pronouns", "occupation", "voice_demands",
            "goals", "clinician", "diagnosis", "referrer", "referral_reason",
            "complaint", "laryngeal_finding", "examined_on",
            "voice_changed_on", "voice_rest_until", "loud_from", "spelling", "contact",
            "contact_detail", "reminders", "time_zone", "grown_up", "props",
        ]  # fmt: skip
        labels = {
            "voice": gettext_lazy("Voice"),
            "age_band": gettext_lazy("Age band"),
            "pronouns": gettext_lazy("Pronouns"),
            "occupation": gettext_lazy("Occupation"),
            "clinician": gettext_lazy("Clinician"),
        }
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
            "born_on": gettext_lazy(
                "Only if the clinic needs it. The age band is then set from it."
            ),
            "loud_from": gettext_lazy("The surgeon’s recorded date, after surgery or haemorrhage."),
        }

    def __init__(self, *args: Any, seen: QuerySet[Client], **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        #: Clients that the person at the form may see: only of these is a name given away.
        self.seen = seen
        own = User.objects.filter(
            clinic=self.instance.clinic, role=User.Role.CLINICIAN, is_active=True
        )
        offer_rows(self, "clinician", own, label=lambda user: user.get_full_name() or user.username)

    def clean_born_on(self) -> Any:
        """Refuse a date of birth in the future or impossibly long ago."""
        return self._past("born_on", gettext("The date of birth is in the future."))

    def clean_examined_on(self) -> Any:
        """Refuse an examination date in the future."""
        return self._past("examined_on", gettext("The examination date is in the future."))

    def clean_voice_changed_on(self) -> Any:
        """Refuse a date of change in the future."""
        return self._past("voice_changed_on", gettext("The date of the change is in the future."))

    def _past(self, name: str, words: str) -> Any:
        day, today = self.cleaned_data[name], timezone.localdate()
        if day is None:
            return None
        if day > today:
            raise forms.ValidationError(words)
        if (today - day).days > OLDEST_YEARS * 366:
            raise forms.ValidationError(
                gettext("{year} is too long ago. Check the year.").format(year=day.year)
            )
        return day

    def clean(self) -> dict[str, Any] | None:
        """Fill the age band in from the date of birth, and ask about odd dates."""
        born_on = self.cleaned_data.get("born_on")
        if born_on:
            self.cleaned_data["age_band"] = age_band(born_on, timezone.localdate())
            if (timezone.localdate() - born_on).days < 3 * 365:
                self.ask_about(gettext("the client would be under three years old"))
        for name in ("voice_rest_until", "loud_from"):
            day = self.cleaned_data.get(name)
            if day and abs((day - timezone.localdate()).days) > 2 * 366:
                self.ask_about(
                    gettext("{day} is more than two years away").format(day=full_day(day))
                )
        called = self.cleaned_data.get("name")
        others = self.seen.exclude(pk=self.instance.pk)
        if called and "name" in self.changed_data and others.filter(name__iexact=called).exists():
            self.ask_about(gettext("another client has this name"))
        return super().clean()


class HelperForm(forms.ModelForm):
    """Form for a helper of the client."""

    class Meta:
        model = Helper
        fields = ["name", "relation"]
        labels = {"name": gettext_lazy("Name")}
        error_messages = {
            "name": {"required": gettext_lazy("Enter the helper’s name, as the client uses it.")}
        }
