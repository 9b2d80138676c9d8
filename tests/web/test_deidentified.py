"""Users without access to names see none, on no page and in no file, and this loses no data."""

from datetime import date

import pytest
from django.urls import reverse
from django.utils import timezone

from tests.factories import ClinicianFactory
from tests.web.access_table import LOOKED_AT
from tests.web.signing_in import signed_in
from tests.web.test_access import arguments
from web.clients.actions import add_helper, save_record
from web.clients.models import Client
from web.clients.pseudonyms import hide_names
from web.screening.wording import FLAG_NAMES

#: Pages that concern no client.
OF_NOBODY = ("accounts:", "catalogue:", "calculators:", "mfa_", "account_")


@pytest.fixture
def auditor(clinic):
    return ClinicianFactory(clinic=clinic, role="auditor")


@pytest.fixture
def named_person(person):
    person.name = "Tamsin Orrell-Before"
    person.save()
    person.name, person.contact_detail = "Tamsin Orrell", "tamsin@orrell.example"
    person.grown_up = "Mara Orrell, mother"
    person.born_on, person.referrer = date(1961, 2, 3), "Dr Orrell-Brand"
    said = ["name", "contact_detail", "born_on", "referrer", "grown_up"]
    save_record(person, fields=said, edition=person.edition, by=person.account)
    add_helper(person, name="Ana Orrell", relation="daughter")
    return person


@pytest.mark.parametrize(
    "name", sorted(each for each in LOOKED_AT if not each.startswith(OF_NOBODY))
)
def test_no_page_and_no_file_contains_a_name(name, named_person, task, auditor):
    url = reverse(name, args=arguments(name, named_person, task))
    if name == "practice:simulated_voice":
        url += "?manner=even&seed=1"
    answer = signed_in(auditor).get(url)
    assert answer.status_code in (200, 405)
    said = b"".join(answer) if answer.streaming else answer.content
    for word in (b"Orrell", b"orrell.example", b"1961", b"Tamsin"):
        assert word not in said, word


def test_a_client_is_found_by_number_and_by_nothing_that_names(named_person, auditor):
    listed = reverse("clients:list")
    assert f"no. {named_person.pk}" in signed_in(auditor).get(listed).content.decode()
    answer = signed_in(auditor).post(listed, {"find": named_person.pk})
    assert answer.url == reverse("results:client", args=[named_person.pk])
    for words in ("Tamsin", "no"):
        assert (
            f"no. {named_person.pk}"
            not in signed_in(auditor).post(listed, {"find": words}).content.decode()
        )


def test_a_pseudonymous_page_is_never_cached(named_person):
    with hide_names():
        read = Client.objects.get(pk=named_person.pk)
        with pytest.raises(RuntimeError):
            read.save()
    named_person.refresh_from_db()
    assert named_person.name == "Tamsin Orrell"


def test_everybody_elses_pages_say_the_name_after_an_auditor_looked(
    named_person, auditor, as_clinician
):
    page = reverse("record:summary", args=[named_person.pk])
    signed_in(auditor).get(page)
    assert "Tamsin Orrell" in as_clinician.get(page).content.decode()


def test_a_record_says_what_changed_in_screens_and_targets_too(measured, as_clinician):
    by = measured.baselines.first().begun_by
    for flags in ([], ["strain"]):
        measured.screens.create(asked_at=timezone.now(), asked_by=by, flags=flags)
    changes = as_clinician.get(reverse("record:summary", args=[measured.pk])).context["changes"]
    told = {(each.what, *line) for each in changes for line in each.lines}
    flags = [(before, after) for what, _, before, after in told if what == "screening"]
    assert ("none", FLAG_NAMES["strain"]) in flags
    assert {label for what, label, *_ in told if what == "target accepted"} >= {"Hold"}
    # The same decision again is no change.
    hold = measured.targets.get(kind="hold")
    hold.pk, hold.decided_at = None, timezone.now()
    hold.save()
    again = as_clinician.get(reverse("record:summary", args=[measured.pk])).context["changes"]
    assert [each for each in again if each.what == "target accepted"] == [
        each for each in changes if each.what == "target accepted"
    ]


def test_the_lead_sees_changes_to_accounts(as_clinician, clinician, clinic):
    other = ClinicianFactory(clinic=clinic, first_name="Nell", last_name="Rake")
    as_clinician.post(reverse("clinic:role", args=[other.pk]), {"role": "auditor"})
    page = as_clinician.get(reverse("clinic:people"))
    roles = dict(clinician.Role.choices)
    line = ("may", roles["clinician"], roles["auditor"])
    changed = [each for each in page.context["changes"] if line in each.lines]
    assert [(each.what, each.by) for each in changed] == [
        ("Nell Rake", clinician.get_full_name() or clinician.username)
    ]
    signed_in(other).get("/")  # Signing in is no change.
    assert not [
        each
        for each in as_clinician.get(reverse("clinic:people")).context["changes"]
        if each.what == "Nell Rake" and each.at > changed[0].at
    ]
