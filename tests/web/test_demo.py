"""The demo clinic: the same on every load, and loaded once."""

from datetime import UTC, date, datetime

import pytest
from django.core import serializers
from django.core.management import call_command

from tests.web.signing_in import signed_in
from web.accounts.models import Clinic, User
from web.clients.models import Client
from web.decisions.client_status import statuses
from web.demo import people
from web.demo.loader import load_demo
from web.record.models import PrescribedTask, ProgrammeVersion, Trace, Trial

TODAY = date(2026, 11, 9)
FEW = tuple(person for person in people.PEOPLE if person.name in ("Dov Penhallow", "Fenn Abara"))


def all_rows():
    """Return all the demo's data, except values that the database numbers or salts."""
    rows = []
    for model in (Clinic, Client, ProgrammeVersion, PrescribedTask, Trial, Trace):
        for row in serializers.serialize("python", model.objects.order_by("pk")):
            for own in ("created_at", "practice_issued_at", "received_at"):
                row["fields"].pop(own, None)
            rows.append((row["model"], row["pk"] if model is Trial else None, row["fields"]))
    return rows


@pytest.fixture
def short_demo(monkeypatch):
    monkeypatch.setattr("web.demo.loader.PEOPLE", FEW)


@pytest.mark.django_db(transaction=True, reset_sequences=True)
def test_two_loads_give_the_same_data(short_demo):
    load_demo(TODAY)
    first = all_rows()
    assert len([row for row in first if row[0] == "record.trial"]) == 12
    call_command("flush", interactive=False, verbosity=0, reset_sequences=True)
    load_demo(TODAY)
    assert all_rows() == first


@pytest.mark.django_db
def test_loading_again_changes_nothing_and_says_how_to_sign_in(short_demo, capsys):
    call_command("load_demo", today=TODAY)
    count = Trial.objects.count()
    call_command("load_demo", today=TODAY)
    assert Trial.objects.count() == count
    said = capsys.readouterr().out
    assert "exists" in said
    assert f"password {people.CLINICIAN_PASSWORD}" in said
    assert f"/practice/with/{people.PEOPLE[0].code}/" in said


@pytest.mark.django_db
def test_its_trials_lie_in_the_past_and_were_measured(short_demo):
    load_demo(TODAY)
    measured = Trial.objects.exclude(source=Trial.Source.STOPWATCH)
    assert measured.exists()
    assert all(trial.performed_at.date() < TODAY for trial in measured)
    assert all(trial.total_s and trial.snr_db for trial in measured)


#: Story → the step that it shows; None is "on course".
SHOWS = {
    "choir-f4": "check_in", "lens-d4": "taper_on", "swim-g4": "stop_and_refer", "oars-a2": "swap",
    "tower-a2": "advance", "sail-a3": "check_in",
}  # fmt: skip


@pytest.mark.django_db
@pytest.mark.parametrize("code", SHOWS)
def test_a_story_shows_what_it_is_there_to_show_and_every_page_of_it_opens(code, monkeypatch):
    person = next(each for each in people.PEOPLE if each.code == code)
    monkeypatch.setattr("web.demo.loader.PEOPLE", (person,))
    now = datetime(2026, 11, 25, 9, 0, tzinfo=UTC)
    monkeypatch.setattr("django.utils.timezone.now", lambda: now)
    load_demo(now.date())
    client = Client.objects.get()
    proposed = statuses([client], now=now)[client.pk].proposed
    assert (proposed[0]["step"] if proposed else None) == SHOWS[code]
    browser = signed_in(User.objects.get(username="imre"))
    here = f"/clients/{client.pk}/"
    pages = ("", "?by=week", "?by=note", "compare/?kind=session", "voice-range-profile/")
    for path in (*pages, "fhir.json"):
        assert browser.get(here + path).status_code == 200, path
