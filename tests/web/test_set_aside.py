"""Trials set aside by the client or the clinician: they leave every share and best."""

import uuid

import pytest
from django.urls import reverse
from django.utils import timezone

from reedcore.formats.trials_csv import TrialRow
from tests.factories import ClientFactory, prescribe
from tests.web.conftest import entry
from tests.web.conftest import send as send_entry
from tests.web.test_board import practise, straw
from web.exports.rows import trial_rows
from web.record.client_context import bests
from web.record.history import load_snapshots, whole_history
from web.record.models import SelfReport, Trial

WHY = "not_my_voice"


def report(person, trial, why=WHY):
    return entry(person, "mark", mark="set_aside", value={"trial": str(trial), "why": why})


def send(browser, said):
    response = send_entry(browser, said)
    assert response.status_code == 200, response.content


def timed_entry(person, task, seconds=8.0):
    return entry(person, "timed", task=task.pk, seconds=seconds)


@pytest.fixture
def trial(as_client, person, task):
    said = timed_entry(person, task)
    send(as_client, said)
    return Trial.objects.get(pk=said["key"])


def test_a_trial_set_aside_leaves_every_share_and_best_and_keeps_its_figures(
    as_client, person, trial
):
    send(as_client, report(person, trial.pk))
    trial.refresh_from_db()
    assert (trial.set_aside, trial.total_s) == (WHY, 8.0)
    assert whole_history(person, {}).trials == ()
    assert load_snapshots([person], now=timezone.now())[person.pk].history.trials == ()
    (row,) = trial_rows(person)
    assert isinstance(row, TrialRow)
    assert (row.set_aside, row.total_s) == (WHY, 8.0)


def test_a_best_of_another_voice_is_no_best(person, clinician):
    programme = straw(person, clinician)
    practise(programme)
    code = programme.tasks.get().task_code
    before = bests(person, None)[code]
    other_voice = Trial.objects.filter(total_s__lt=before).values("pk")[:4]
    Trial.objects.filter(pk__in=other_voice).update(total_s=60.0)
    assert bests(person, None)[code] == 60.0
    Trial.objects.filter(total_s=60.0).update(set_aside=WHY)
    assert bests(person, None)[code] == before


@pytest.mark.parametrize("first", ["report", "trial"])
def test_report_and_trial_may_arrive_in_any_order(as_client, person, task, first):
    said = timed_entry(person, task)
    both = [said, report(person, said["key"])]
    for each in both if first == "trial" else reversed(both):
        send(as_client, each)
    assert Trial.objects.get().set_aside == WHY


def test_a_report_is_undone_by_the_next(as_client, person, trial):
    for why, wanted in ((WHY, WHY), ("counts", ""), ("counted_long", "counted_long")):
        send(as_client, report(person, trial.pk, why))
        trial.refresh_from_db()
        assert trial.set_aside == wanted


def test_nobody_sets_another_clients_trial_aside(as_client, person, trial, clinic, clinician):
    other = prescribe(ClientFactory(clinic=clinic), by=clinician)
    foreign = Trial.objects.create(
        key=uuid.uuid4(), client=other.programme.client, task=other, performed_at=timezone.now(),
        source="stopwatch", outcome="not_judged", total_s=9.0,
    )  # fmt: skip
    send(as_client, report(person, foreign.pk))
    foreign.refresh_from_db()
    assert foreign.set_aside == ""


@pytest.mark.parametrize("value", [{}, {"trial": "x", "why": WHY}, {"trial": str(uuid.uuid4())}, 3])
def test_a_report_about_nothing_is_refused(as_client, person, task, value):
    said = entry(person, "mark", mark="set_aside", value=value)
    assert send_entry(as_client, said).status_code == 422
    assert not SelfReport.objects.exists()


def test_the_clinician_sees_it_and_counts_it_and_the_client_is_not_heard_twice(
    as_client, as_clinician, person, trial
):
    said = report(person, trial.pk)
    send(as_client, said)
    page = as_clinician.get(reverse("results:client", args=[person.pk])).content.decode()
    assert "1 trial that does not count" in page
    assert "the client says: not my voice" in page
    as_clinician.post(reverse("results:count_trial", args=[person.pk, trial.pk]))
    trial.refresh_from_db()
    assert trial.set_aside == ""
    # A repeated report that arrived before the decision changes nothing.
    send(as_client, said)
    trial.refresh_from_db()
    assert trial.set_aside == ""


def test_the_clinician_leaves_a_trial_out(as_clinician, clinician, person, task, trial):
    page = as_clinician.post(
        reverse("results:leave_out_trial", args=[person.pk, trial.pk]), follow=True
    )
    trial.refresh_from_db()
    assert (trial.set_aside, trial.reviewed_by) == ("by_clinician", clinician)
    assert "The trial no longer counts." in page.content.decode()
    assert "left out by a clinician" in page.content.decode()
