"""Fixtures that web and browser tests share."""

import uuid

import pytest
from django.db import connection
from django.utils import timezone

from tests.factories import (
    ClientFactory,
    ClinicFactory,
    ClinicianFactory,
    baseline,
    prescribe,
    simple_document,
)
from web.clients.models import Target
from web.practice.models import ReferenceVowel, Session
from web.practice.simulated import COMFORTABLE_DBFS
from web.programmes.actions import publish_document, withdraw


@pytest.fixture(autouse=True)
def empty_queue(request):
    """What a test that commits has put into the queue ends with it: its tables are the queue's own,
    and are not among those that are emptied after a test."""
    mark = request.node.get_closest_marker("django_db")
    commits = "transactional_db" in request.fixturenames or (
        mark and mark.kwargs.get("transaction")
    )
    if not commits:
        yield
        return
    request.getfixturevalue("transactional_db")
    yield
    with connection.cursor() as cursor:
        cursor.execute("TRUNCATE procrastinate_jobs CASCADE")


@pytest.fixture
def clinic(db):
    return ClinicFactory()


@pytest.fixture
def clinician(clinic):
    return ClinicianFactory(clinic=clinic)


@pytest.fixture
def person(clinic):
    """A client of the clinic who can sign in."""
    return ClientFactory(clinic=clinic, name="Tamsin Orrell")


@pytest.fixture
def task(person, clinician):
    """Hold "oh" on F3 for 5 seconds, three times."""
    return prescribe(person, by=clinician)


@pytest.fixture(autouse=True)
def simulated_voice_offered(settings):
    settings.OFFER_SIMULATED_VOICE = True


@pytest.fixture
def measured(person, clinician):
    """A bass with a comfortable range and an accepted hold."""
    person.voice = "bass"
    person.props = ["straw_6mm"]
    person.save()
    sheet = baseline(
        person, by=clinician, entries={"comfortable_low_hz": 110.0, "comfortable_high_hz": 220.0}
    )
    for kind, values in (
        ("hold", {"goal_s": 30.0, "today_s": 14.0}),
        ("soft_level", {"ceiling_db": 3.0}),
        ("loud_level", {"floor_db": 6.0, "ceiling_db": 16.0}),
    ):
        Target.objects.create(
            client=person, baseline=sheet, kind=kind, rule="longest_s", decision="accepted",
            values=values, proposed={}, inputs={}, decided_at=timezone.now(), decided_by=clinician,
        )  # fmt: skip
    return person


@pytest.fixture
def bass(measured):
    """The same who owns every prop, and whose comfortable level is known."""
    measured.props = ["straw_6mm", "tube", "bottle", "book", "mirror", "balloon", "metronome"]
    measured.save()
    by = measured.baselines.first().begun_by
    before = publish_document(measured, simple_document(), by=by)
    withdraw(before, by=by)
    session = Session.objects.create(
        key=uuid.uuid4(), client=measured, programme=before, sort="full", day="usual", begun_at=timezone.now(),
    )  # fmt: skip
    for _ in range(3):
        ReferenceVowel.objects.create(
            key=uuid.uuid4(), client=measured, session=session, made_at=timezone.now(),
            level_dbfs=COMFORTABLE_DBFS,
        )  # fmt: skip
    return measured
