"""Visibility and permissions inside a clinic: roles, own and shared clients, and covers."""

import uuid
from datetime import timedelta
from urllib.parse import unquote

import pytest
from django.db import IntegrityError, transaction
from django.utils import timezone

from reedcore.safety import Flag
from tests.factories import ClientFactory, ClinicianFactory
from tests.web.signing_in import signed_in
from web.accounts.models import Cover, User
from web.clients.actions.erasing import erase_due, plan_erasure
from web.clients.models import Client
from web.notes.models import ClinicalNote
from web.screening.actions import record_stop


@pytest.fixture
def lead(clinic, clinician):
    clinic.lead = clinician
    clinic.save()
    return clinician


@pytest.fixture
def colleague(clinic):
    return ClinicianFactory(
        clinic=clinic, first_name="Una", last_name="Sedge", email="una@clinic.example"
    )


@pytest.fixture
def apart(clinic, lead, colleague, person):
    """A clinic in which clinicians see their own clients; the client is the colleague's."""
    clinic.sees_all = False
    clinic.save()
    person.clinician = colleague
    person.save()
    return ClinicianFactory(
        clinic=clinic, first_name="Ede", last_name="Rush", email="ede@clinic.example"
    )


def status_of(user, person):
    return signed_in(User.objects.get(pk=user.pk)).get(f"/clients/{person.pk}/").status_code == 200


def covering(of, by, *, first=0, last=0, made_by=None):
    today = timezone.localdate()
    days = {
        "first_day": today + timedelta(days=first),
        "last_day": today + timedelta(days=last),
    }
    return Cover.objects.create(absent=of, substitute=by, made_by=made_by or of, **days)


def test_with_the_open_setting_a_colleague_sees_every_client(clinic, colleague, person):
    assert status_of(colleague, person)


def test_with_the_closed_setting_only_the_lead_sees_a_colleagues_client(
    apart, lead, colleague, person
):
    assert status_of(colleague, person)
    assert status_of(lead, person)
    assert not status_of(apart, person)
    clinic = apart.clinic
    clinic.deputy = apart  # A person who receives every stop alert must be able to open it.
    clinic.save()
    assert status_of(apart, person)
    clinic.deputy = None
    clinic.save()
    assert person.name not in signed_in(apart).get("/clients/").content.decode()
    assert person.name not in signed_in(apart).get("/board/").content.decode()
    # A client without a clinician stays visible, so that no record is orphaned.
    person.clinician = None
    person.save()
    assert status_of(apart, person)


def test_a_record_is_shared_by_its_own_clinician_and_not_by_another(apart, colleague, person):
    url = f"/clients/{person.pk}/shared/"
    assert signed_in(apart).post(url, {"with": [apart.pk]}).status_code == 404
    signed_in(colleague).post(url, {"with": [apart.pk]})
    assert status_of(apart, person)
    told = signed_in(apart).post(url, {"with": []}, follow=True).content.decode()
    assert "Only the client’s clinician or the clinic lead can share a record." in told
    assert status_of(apart, person)
    assert "shared with Ede Rush" in str(person.history.first().history_change_reason)
    signed_in(colleague).post(url, {"with": []})
    assert not status_of(apart, person)


@pytest.mark.parametrize(
    ("first", "last", "sees"), [(0, 0, True), (-3, 2, True), (1, 4, False), (-9, -1, False)]
)
def test_a_stand_in_sees_the_clients_on_the_covered_days(
    apart, colleague, person, first, last, sees
):
    covering(colleague, apart, first=first, last=last)
    assert status_of(apart, person) is sees


def test_a_stand_in_receives_stops(apart, colleague, person):
    covering(colleague, apart)
    stop = record_stop(
        person, key=uuid.uuid4(), flags=[Flag.NEW_PAIN], said_at=timezone.now(), clinicians=[]
    )
    assert {"una@clinic.example", "ede@clinic.example"} <= set(stop.recipients)


def test_one_arranges_ones_own_holiday_and_the_lead_everybodys(apart, lead, colleague):
    today = timezone.localdate()
    days = {"first_day": today.isoformat(), "last_day": (today + timedelta(days=5)).isoformat()}
    asked = {"absent": colleague.pk, "substitute": apart.pk, **days}
    # A colleague's client.
    assert signed_in(apart).post("/clients/people/cover/", asked).status_code == 422
    page = signed_in(colleague).post("/clients/people/cover/", asked, follow=True).content.decode()
    assert "Ede Rush covers for Una Sedge" in page
    (made,) = Cover.objects.all()
    signed_in(apart).post(f"/clients/people/cover/{made.pk}/end/")
    assert Cover.objects.exists()
    signed_in(lead).post(f"/clients/people/cover/{made.pk}/end/")
    assert not Cover.objects.exists()


@pytest.mark.parametrize(
    ("changed", "says"),
    [
        ({"substitute": "own"}, "Choose another person to cover."),
        ({"last_day": "2020-01-01"}, "This period is already over."),
        (
            {"first_day": "2099-01-02", "last_day": "2099-01-01"},
            "The last day must not be before the first.",
        ),
    ],
)
def test_an_impossible_stand_in_is_reported_beside_the_field(apart, colleague, changed, says):
    today = timezone.localdate().isoformat()
    asked = {"absent": colleague.pk, "substitute": apart.pk, "first_day": today, "last_day": today}
    asked |= changed
    if asked["substitute"] == "own":
        asked["substitute"] = colleague.pk
    page = signed_in(colleague).post("/clients/people/cover/", asked)
    assert page.status_code == 422
    assert says in page.content.decode()


def test_the_database_refuses_a_clinician_as_their_own_stand_in(colleague):
    with pytest.raises(IntegrityError), transaction.atomic():
        covering(colleague, colleague)


def test_the_lead_sets_the_role_of_a_colleague(lead, colleague, person):
    url = f"/clients/people/{colleague.pk}/role/"
    person.clinician = colleague
    person.save()
    page = signed_in(lead).post(url, {"role": "viewer"}, follow=True).content.decode()
    assert "Una Sedge has 1 clients. Give them to a clinician first." in page
    person.clinician = lead
    person.save()
    signed_in(lead).post(url, {"role": "viewer"})
    colleague.refresh_from_db()
    assert colleague.role == User.Role.VIEWER
    signed_in(lead).post(f"/clients/people/{lead.pk}/role/", {"role": "viewer"})
    lead.refresh_from_db()
    assert lead.is_clinician


def test_a_colleague_is_invited_as_an_assistant(lead, clinic):
    said = {"name": "Nye Fenn", "mail": "nye@clinic.example", "role": "assistant"}
    assert "Nye Fenn" in signed_in(lead).post("/clients/people/invite/", said).content.decode()
    assert clinic.users.get(email="nye@clinic.example").role == User.Role.ASSISTANT


def test_a_caseload_goes_to_a_clinician_only(lead, colleague, person, clinic):
    person.clinician = colleague
    person.save()
    helper = ClinicianFactory(clinic=clinic, role="assistant")
    page = signed_in(lead).post(
        f"/clients/people/{colleague.pk}/deactivate/", {"to": helper.pk}, follow=True
    )
    assert "Choose who takes over" in page.content.decode()
    person.refresh_from_db()
    assert person.clinician == colleague


def test_a_note_is_signed_by_who_wrote_it(lead, colleague, person):
    today = timezone.localdate()
    note = ClinicalNote.objects.create(
        client=person, kind="progress", first=today, last=today, made_by=colleague
    )
    url = f"/clients/{person.pk}/notes/{note.pk}/sign/"
    said = {"read": "yes", "meaning": "It carries.", "edition": note.edition}
    page = signed_in(lead).post(url, said).content.decode()
    assert "Only Una Sedge, the author, can sign this note." in page
    note.refresh_from_db()
    assert note.signed_at is None
    colleague.is_active = False  # The clinician has left: another person must be able to do it.
    colleague.save()
    signed_in(lead).post(url, said)
    note.refresh_from_db()
    assert note.signed_by == lead


def test_an_assistant_leads_a_session_and_it_is_on_record(person, task, clinic, lead):
    helper = ClinicianFactory(clinic=clinic, role="assistant")
    page = signed_in(helper).get(f"/practice/in-clinic/{person.pk}/")
    assert page.status_code == 200
    assert b'data-may="measure"' in signed_in(helper).get("/board/").content


def test_the_link_goes_into_a_mail_of_ones_own(as_clinician, person):
    person.contact, person.contact_detail = "mail", "tam@home.example"
    person.save()
    page = unquote(as_clinician.get(f"/clients/{person.pk}/practice-link/").content.decode())
    assert f"mailto:tam@home.example?subject=Practice at home, {person.clinic}" in page
    assert person.name not in page[page.index("mailto:") : page.index("mailto:") + 300]


def test_clients_elsewhere_stay_elsewhere(apart):
    stranger = ClientFactory()
    covering(apart, ClinicianFactory(clinic=apart.clinic))
    assert not status_of(apart, stranger)


def test_nothing_of_a_share_is_left_when_a_record_is_erased(apart, lead, colleague, person):
    signed_in(colleague).post(f"/clients/{person.pk}/shared/", {"with": [apart.pk]})
    person.archived_at = timezone.now()
    person.save()
    plan_erasure(person, by=lead, why="requested this", name=person.name)
    shares = Client.shared_with.through.objects
    assert shares.exists()
    assert erase_due(now=timezone.now() + timedelta(days=400)) == [person.pk]
    assert not shares.exists()
    assert User.objects.filter(pk__in=[apart.pk, colleague.pk]).count() == 2
