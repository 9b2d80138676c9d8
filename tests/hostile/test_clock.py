"""The server's clock moves by an hour in the middle of a session: nothing is lost, and a stop alert
is sent at once."""

from datetime import timedelta

import pytest
from django.urls import reverse
from django.utils import timezone

from tests.jobs import run_jobs
from tests.web.conftest import entry, send, sitting
from tests.web.signing_in import signed_in
from web.record.models import Session, Trial
from web.screening.models import Stop


@pytest.mark.parametrize("hours", [-1, 1])
def test_a_clock_that_steps_costs_no_trial_no_session_and_no_stop(
    as_client, as_clinician, person, prescribed, clinician, clock, mailoutbox, hours
):
    clinician.email = "imre@saltmarsh.example"
    clinician.save()
    person.clinician = clinician
    person.save()
    task, session, began = prescribed.tasks.get(), sitting(person), timezone.now()
    at = (began + timedelta(minutes=1)).isoformat()

    def sends(kind, **more):
        said = {**entry(person, kind, session, **more), "at": at}
        assert send(as_client, said, sent_at=at).status_code == 200

    sends("begun")
    sends("timed", task=task.pk, seconds=7.0)
    clock(began + timedelta(hours=hours))  # The device's own clock continues as before.
    sends("timed", task=task.pk, seconds=8.0)
    sends("stop", flags=["breathing"])
    sends("ended", ending="stopped", done=1)
    assert as_client.get(reverse("practice:today")).status_code == 200
    assert as_clinician.get(reverse("decisions:board")).status_code == 200
    run_jobs()
    clock(began + timedelta(minutes=5))
    assert sorted(Trial.objects.values_list("total_s", flat=True)) == [7.0, 8.0]
    kept = Session.objects.get()
    assert (kept.ending, kept.ended_at >= kept.begun_at) == ("stopped", True)
    stop = Stop.objects.get()
    assert stop.delivered_at is not None
    assert len(mailoutbox) == 1
    # At most the user has to sign in again, as after an hour without activity.
    page = signed_in(clinician).get(f"/clients/{person.pk}/")
    assert page.status_code == 200
    assert len(page.context["page"].summaries) == 1
