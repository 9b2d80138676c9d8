"""A clinic's people: who leaves hands the caseload over, and somebody is always told of stops."""

from django.db import transaction
from simple_history.utils import update_change_reason

from web.accounts.models import Clinic, User


class NotYet(ValueError):
    """Somebody cannot leave yet; the message is for whoever asked."""


@transaction.atomic
def let_go(user: User, *, to: User | None, by: User) -> int:
    """Closes an account: it can no longer get in, and its clients are another's from now on.

    Returns:
        how many clients were handed over.

    Raises:
        NotYet: it is one's own, or the lead's, or somebody's who is told of stops; or clients would
            be left without a clinician.
    """
    clinic = Clinic.objects.select_for_update(of=("self",)).get(pk=user.clinic_id)
    if user == by:
        raise NotYet("You cannot close your own account: another lead does that.")
    for role, holder in (("leads the clinic", clinic.lead), ("is told of stops", clinic.deputy)):
        if holder == user:
            raise NotYet(
                f"{user.get_full_name()} {role}: name somebody else on the clinic’s page first."
            )
    clients = list(clinic.clients.filter(clinician=user))
    if clients and (to is None or to == user or not to.is_active or to.clinic_id != clinic.pk):
        raise NotYet(f"Choose who takes over the {len(clients)} clients of {user.get_full_name()}.")
    for client in clients:
        client.clinician = to
        client.save()
        update_change_reason(client, f"handed over by {by.get_full_name()}")
    user.is_active = False
    user.set_unusable_password()  # no link that is on its way opens it again
    user.save()
    return len(clients)


def let_back(user: User) -> None:
    """Opens a closed account again; a password is chosen anew."""
    user.is_active = True
    user.save()
