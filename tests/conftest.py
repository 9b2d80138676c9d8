"""Fixtures that web and browser tests share."""

import pytest

from tests.factories import ClientFactory, ClinicFactory, ClinicianFactory, prescribe


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
