"""Staff accounts: a deactivated user's caseload is reassigned, and stops always reach someone."""

from datetime import date

from django.db import transaction
from django.utils import timezone
from django.utils.translation import gettext
from simple_history.utils import update_change_reason

from web.accounts.models import Clinic, Cover, User
from web.keeping import journal
from web.ui.saving import lock_row, save_fields

from ..models import Client


class NotOwner(Exception):
    """Only the client's own clinician and the lead may share a record or reassign it."""


class PersonNotChanged(ValueError):
    """The account cannot be changed; the message says why."""


def _refuse_alert_recipient(user: User, clinic: Clinic) -> None:
    """Raise PersonNotChanged for the clinic lead and for the deputy, who receives stop alerts."""
    for role, holder in (
        (gettext("leads the clinic"), clinic.lead),
        (gettext("receives stop alerts"), clinic.deputy),
    ):
        if holder == user:
            raise PersonNotChanged(
                gettext(
                    "{user} {role}: choose another person in the clinic settings first."
                ).format(user=user.get_full_name(), role=role)
            )


@transaction.atomic
def deactivate_account(user: User, *, to: User | None, by: User) -> int:
    """Deactivate an account, and hand its clients over to a colleague.

    Returns:
        how many clients were handed over.

    Raises:
        PersonNotChanged: The account is one's own, the lead's, or receives stop alerts; or
            clients would be left without a clinician.
    """
    # Lock the clinic first, so that two accounts that hand over to each other are closed one after
    # the other.
    clinic = lock_row(user.clinic)
    user = lock_row(user)
    to = lock_row(to) if to else None
    if user == by:
        raise PersonNotChanged(gettext("You cannot deactivate your own account. Ask another lead."))
    if not user.is_active:
        raise PersonNotChanged(
            gettext("The account of {user} is already deactivated.").format(
                user=user.get_full_name()
            )
        )
    _refuse_alert_recipient(user, clinic)
    clients = list(clinic.clients.select_for_update(of=("self",)).filter(clinician=user))
    fits = to and to != user and to.is_active and to.is_clinician and to.clinic_id == clinic.pk
    if clients and not fits:
        raise PersonNotChanged(
            gettext("Choose who takes over the {clients} clients of {user}.").format(
                clients=len(clients), user=user.get_full_name()
            )
        )
    for client in clients:
        client.clinician = to
        client.save(update_fields=["clinician"])
        update_change_reason(client, gettext("reassigned by {by}").format(by=by.get_full_name()))
    user.is_active = False
    user.set_unusable_password()  # Invalidate links that were already sent.
    user.save(update_fields=["is_active", "password"])
    journal.note(journal.ACCOUNT_CLOSED, account=journal.digest(user.username))
    return len(clients)


@transaction.atomic
def give_role(user: User, role: str, *, by: User) -> None:
    """Change the role of a user.

    Raises:
        PersonNotChanged: The account is one's own, leads the clinic, receives stop alerts or
            has clients, and the new role does not allow that.
    """
    clinic = lock_row(user.clinic)
    user = lock_row(user)
    if user == by:
        raise PersonNotChanged(gettext("You cannot change your own role. Ask another lead."))
    if role != User.Role.CLINICIAN:
        _refuse_alert_recipient(user, clinic)
        if count := clinic.clients.filter(clinician=user).count():
            name = user.get_full_name()
            raise PersonNotChanged(
                gettext("{name} has {count} clients. Give them to a clinician first.").format(
                    name=name, count=count
                )
            )
    # Remembered devices ask for the second step again.
    user.role, user.role_given_at = role, timezone.now()
    user.save(update_fields=["role", "role_given_at"])


@transaction.atomic
def arrange_cover(
    absent: User, *, substitute: User, first_day: date, last_day: date, made_by: User
) -> Cover:
    """Arrange cover between two dates, both included; repeating it has no effect."""
    lock_row(absent)
    days = {"first_day": first_day, "last_day": last_day}
    same = Cover.objects.filter(absent=absent, substitute=substitute, **days).first()
    return same or Cover.objects.create(
        absent=absent, substitute=substitute, made_by=made_by, **days
    )


@transaction.atomic
def share(client: Client, people: list[User], *, by: User) -> None:
    """Set the users who share a client with the client's own clinician.

    Raises:
        NotOwner: ``by`` is neither that clinician nor the lead.
    """
    client = lock_row(client)
    refuse_unless_owner(client, by)
    client.shared_with.set(people)
    names = ", ".join(each.get_full_name() or each.username for each in people) or "nobody"
    client.save(update_fields=["clinician"])  # An unchanged row still gets a line in the history.
    update_change_reason(client, gettext("shared with {names}").format(names=names)[:100])


def refuse_unless_owner(client: Client, by: User) -> None:
    """Check that the user is the client's own clinician or the lead.

    Raises:
        NotOwner: they are neither.
    """
    if client.clinician_id not in (None, by.pk) and not by.is_lead:
        raise NotOwner


@transaction.atomic
def reactivate_account(user: User) -> None:
    """Reactivate an account; it needs a new password. An active account stays as it is."""
    user = lock_row(user)
    if user.is_active:
        return
    user.is_active = True
    save_fields(user, "is_active")
    journal.note(journal.ACCOUNT_OPENED, account=journal.digest(user.username))
