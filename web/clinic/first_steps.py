"""What a clinic does before its first client, and what of it is done."""

from dataclasses import dataclass

from django.db.models import Q
from django.urls import reverse

from web.accounts.models import Clinic, User


@dataclass(frozen=True)
class Step:
    """One of them.

    Attributes:
        leads: only the lead can do it.
    """

    name: str
    why: str
    url: str
    done: bool
    leads: bool = False


def first_steps(clinic: Clinic) -> list[Step]:
    """In the order in which they are sensible."""
    people = clinic.users.filter(role=User.Role.CLINICIAN, is_active=True)
    told = clinic.deputy_id and clinic.lead_id and clinic.telephone and clinic.address
    return [
        Step(
            "The clinic’s settings",
            "address and telephone as clients see them, the emergency number, who is told of stops",
            reverse("clinic:clinic"),
            bool(told),
            leads=True,
        ),
        Step(
            "Colleagues",
            "each comes in by a link of their own; one of them is the deputy for stops",
            reverse("clinic:people"),
            people.count() > 1,
            leads=True,
        ),
        Step(
            "What you commonly read as usual",
            "your own table by age and voice; without it figures are shown without a comparison",
            reverse("clinic:clinic") + "#usual",
            clinic.reference_figures.exists(),
        ),
        Step(
            "A try of the microphone",
            "the first baseline sheet calibrates it, against a meter where you have one",
            reverse("clients:new"),
            clinic.calibrations.exists(),
        ),
        Step(
            "The first client",
            "the record, then the screen: nothing can be prescribed before it",
            reverse("clients:new"),
            clinic.clients.filter(Q(archived_at=None)).exists(),
        ),
    ]
