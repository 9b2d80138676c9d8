"""Fixtures shared by web and browser tests."""

import os
import uuid

import hypothesis
import pytest
from django.conf import settings
from django.db import connection, connections
from django.test import TransactionTestCase
from django.utils import timezone

from tests import time_spent
from tests.database import administration, delete_rows, drop, make_copy
from tests.factories import (
    ClientFactory,
    ClinicFactory,
    ClinicianFactory,
    baseline,
    prescribe,
    simple_document,
)
from web.baseline.models import Target
from web.practice.simulated import COMFORTABLE_DBFS
from web.programmes.actions import publish_document, withdraw
from web.record.models import ReferenceVowel, Session

LONG = "--long"
#: Processor time of the fixtures of a whole process, with and without finished children.
SHARED_S = pytest.StashKey[dict[bool, float]]()
hypothesis.settings.register_profile("ci", max_examples=30, deadline=None)
hypothesis.settings.register_profile("long", max_examples=400, deadline=None)


def pytest_addoption(parser):
    parser.addoption(LONG, action="store_true", help="run everything at full size")


def pytest_configure(config):
    hypothesis.settings.load_profile("long" if config.getoption(LONG) else "ci")


def pytest_collection_modifyitems(config, items):
    if not config.getoption(LONG):
        left_out = [each for each in items if each.get_closest_marker("long")]
        config.hook.pytest_deselected(items=left_out)
        items[:] = [each for each in items if not each.get_closest_marker("long")]


@pytest.hookimpl(wrapper=True)
def pytest_runtest_protocol(item):
    folder = os.environ.get("TIME_SPENT")
    # One browser serves many tests and is counted when it closes: charge it to none of them.
    with_children = "playwright" not in getattr(item, "fixturenames", ())
    before = _own_seconds(item.session, with_children)
    result = yield
    if folder:
        spent = _own_seconds(item.session, with_children) - before
        is_long = item.get_closest_marker("long") is not None
        time_spent.record(folder, item.nodeid, spent, is_long=is_long)
    return result


@pytest.hookimpl(wrapper=True)
def pytest_fixture_setup(fixturedef, request):
    """Charge what all tests of a process share to none of them."""
    if fixturedef.scope != "session":
        return (yield)
    before = {each: time_spent.processor_seconds(with_children=each) for each in (True, False)}
    try:
        return (yield)
    finally:
        shared = request.session.stash.setdefault(SHARED_S, {True: 0.0, False: 0.0})
        for each, seconds in before.items():
            shared[each] += time_spent.processor_seconds(with_children=each) - seconds


def _own_seconds(session, with_children):
    shared = session.stash.get(SHARED_S, {True: 0.0, False: 0.0})
    return time_spent.processor_seconds(with_children=with_children) - shared[with_children]


@pytest.fixture(scope="session")
def is_long(request):
    """Whether everything runs at full size."""
    return request.config.getoption(LONG)


@pytest.fixture(scope="session")
def django_db_setup(django_test_environment, django_db_blocker):
    """Give this process its own copy of the migrated template."""
    server = settings.DATABASES["default"]
    real = server["NAME"]
    copy = make_copy(server)
    with django_db_blocker.unblock():
        point_at(copy)
    yield
    with django_db_blocker.unblock():
        point_at(real)
        with administration(server) as admin:
            drop(admin, copy)


def point_at(name):
    """Point Django's connections to the database of this name."""
    connections.close_all()
    connection.close_pool()
    settings.DATABASES["default"]["NAME"] = connection.settings_dict["NAME"] = name


@pytest.fixture(scope="session", autouse=True)
def rows_are_deleted():
    """Delete the rows of a test that commits, instead of Django's flush of every table.

    The rows of the queue end with it too: they are no model's, and Django's flush leaves them."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(
            TransactionTestCase, "_fixture_teardown", lambda self: delete_rows(connection)
        )
        yield


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
    """The same client with all props and a known comfortable level."""
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
