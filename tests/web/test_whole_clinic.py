"""A whole clinic as open files."""

import json
import zipfile
from io import StringIO

import pytest
from django.core.management import CommandError, call_command
from django.urls import reverse

from tests.factories import ClientFactory, ClinicFactory
from tests.web.test_library import drawn
from web.accounts.models import Clinic
from web.catalogue.actions import add_picture


def excluded_steps(folder, **said):
    out = StringIO()
    call_command("export_clinic", str(folder), stdout=out, **said)
    return out.getvalue()


@pytest.fixture
def full(clinic, clinician, prescribed, as_clinician):
    as_clinician.get(reverse("clients:record", args=[prescribed.client_id]))
    clinic.emergency_number = "999"
    clinic.save()
    add_picture(clinic, name="Map", alt="A map of the quay", data=drawn(), by=clinician)
    return clinic


def test_everything_of_it_is_there_and_opens_nothing(full, clinician, tmp_path):
    other = ClientFactory(clinic=full, name="Bram Teal")
    ClientFactory(clinic=ClinicFactory(), name="Elsewhere")
    folder = tmp_path / "out"
    told = excluded_steps(folder, clinic=full.name)
    assert "7 files" in told
    clients = sorted(each.name for each in (folder / "clients").iterdir())
    assert [name.split("-", 1)[1] for name in clients] == ["tamsin-orrell.zip", "bram-teal.zip"]
    with zipfile.ZipFile(folder / "clients" / clients[0]) as made:
        assert "practice.json" in made.namelist()
    own = json.loads((folder / "clinic.json").read_text())
    assert own["settings"]["emergency_number"] == "999"
    assert [each["username"] for each in own["people"]] == [clinician.username]
    assert clinician.password not in (folder / "clinic.json").read_text()
    assert "112,999" in (folder / "settings-changes.csv").read_text()
    assert "came to the clinic" in (folder / "people-changes.csv").read_text()
    assert "Tamsin Orrell" in (folder / "access-log.csv").read_text()
    assert next((folder / "pictures").iterdir()).read_bytes()[:2] == b"\xff\xd8"
    assert other.name in told or "bram-teal" in told


def test_a_folder_that_is_in_use_is_left_alone(full, tmp_path):
    (tmp_path / "mine.txt").write_text("mine")
    with pytest.raises(CommandError, match="not empty"):
        excluded_steps(tmp_path, clinic=full.name)
    assert [each.name for each in tmp_path.iterdir()] == ["mine.txt"]


def test_one_of_several_clinics_must_be_named(full, tmp_path):
    ClinicFactory(name="Another")
    with pytest.raises(CommandError, match="Another"):
        excluded_steps(tmp_path / "out")
    assert Clinic.objects.count() == 2
