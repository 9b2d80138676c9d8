"""First steps of a clinic before its first client, and which of them are done."""

from dataclasses import dataclass

from django.db.models import Q
from django.urls import reverse
from django.utils.translation import gettext

from web.accounts.models import Clinic, User


@dataclass(frozen=True)
class FirstStep:
    """A first step.

    Attributes:
        is_for_lead: only the lead can do it.
    """

    name: str
    why: str
    url: str
    is_done: bool
    is_for_lead: bool = False


def first_steps(clinic: Clinic) -> list[FirstStep]:
    """Return the first steps in a sensible order."""
    people = clinic.users.filter(role=User.Role.CLINICIAN, is_active=True)
    has_contacts = clinic.deputy_id and clinic.lead_id and clinic.telephone and clinic.address
    return [
        FirstStep(
            gettext("Clinic settings"),
            gettext(
                "address, phone and emergency number for clients, and who receives stop alerts"
            ),
            reverse("clinic:clinic"),
            bool(has_contacts),
            is_for_lead=True,
        ),
        FirstStep(
            "Colleagues",
            gettext("invite each with a personal link, and choose a deputy for stop alerts"),
            reverse("clinic:people"),
            people.count() > 1,
            is_for_lead=True,
        ),
        FirstStep(
            gettext("Reference ranges"),
            gettext(
                "your own ranges by age and voice; without them values are shown without comparison"
            ),
            reverse("clinic:clinic") + "#usual",
            clinic.reference_figures.exists(),
        ),
        FirstStep(
            gettext("Microphone test"),
            gettext("the first baseline calibrates it, with a sound level meter if you have one"),
            reverse("clients:new"),
            clinic.calibrations.exists(),
        ),
        FirstStep(
            gettext("The first client"),
            gettext("record and screening, which are needed before prescribing"),
            reverse("clients:new"),
            clinic.clients.filter(Q(archived_at=None)).exists(),
        ),
    ]
