"""People and prescriptions for tests, with only the data that a test requests."""

import uuid

import factory
from django.utils import timezone

from reedcore.catalogue.tasks import shipped_tasks
from reedcore.safety import ASKED
from tests.documents import empty_document, new_item
from web.accounts.models import Clinic, User
from web.baseline.models import Baseline, BaselineTrial
from web.clients.models import Client
from web.programmes.actions import OpenStops, publish_document, publish_programme
from web.record.models import PrescribedTask, Trial
from web.screening.models import Screen

PASSWORD = "salt-and-rope-41"
PIN = "135791"


class ClinicFactory(factory.django.DjangoModelFactory):
    class Meta:
        model = Clinic

    name = factory.Sequence(lambda n: f"Clinic {n}")
    time_zone = "Europe/Lisbon"


class ClinicianFactory(factory.django.DjangoModelFactory):
    class Meta:
        model = User
        skip_postgeneration_save = True

    username = factory.Sequence(lambda n: f"clinician{n}")
    first_name = "Odalys"
    last_name = "Brandt"
    role = User.Role.CLINICIAN
    clinic = factory.SubFactory(ClinicFactory)
    password = factory.django.Password(PASSWORD)


class ClientFactory(factory.django.DjangoModelFactory):
    """A client who can sign in, screened and without a voice complaint."""

    class Meta:
        model = Client
        skip_postgeneration_save = True

    complaint = Client.Complaint.NO

    clinic = factory.SubFactory(ClinicFactory)
    name = factory.Sequence(lambda n: f"Client {n}")
    practice_code = factory.Sequence(lambda n: f"code-{n:04}")
    account = factory.LazyAttribute(
        lambda made: User.objects.create_user(
            f"client-of-{made.practice_code}",
            password=PIN,
            role=User.Role.CLIENT,
            clinic=made.clinic,
        )
    )

    @factory.post_generation
    def screened(self, create, wanted, **rest):
        """Add a screening without red flags; none with ``screened=False``."""
        if wanted is not False:
            Screen.objects.create(
                client=self,
                asked_at=timezone.now(),
                asked_by=self.account,
                asked=[each.value for each in ASKED],
            )


def prescribe(client, *, by, sound="oh", note_midi=53, target_s=5.0, counts="total", tries=3):
    """Publish a programme with one task (F3 by default)."""
    task = PrescribedTask(
        sound=sound, note_midi=note_midi, target_s=target_s, counts=counts, tries=tries
    )
    publish_programme(client, by=by, task=task)
    return task


def trial(task, **figures):
    """Save a try with these figures only."""
    saved = {
        "key": uuid.uuid4(),
        "task": task,
        "client": task.programme.client,
        "performed_at": timezone.now(),
        "source": Trial.Source.MICROPHONE,
        "outcome": Trial.Outcome.MET,
        "total_s": 5.2,
        **figures,
    }
    return Trial.objects.create(**saved)


def baseline(client, *, by, **fields):
    """Create an empty sheet."""
    return Baseline.objects.create(client=client, begun_at=timezone.now(), begun_by=by, **fields)


def baseline_trial(client, *, by, step="vowel", sheet=None, **fields):
    """Create a trial of a sheet (a new one by default): twelve seconds of a vowel."""
    made = {
        "key": uuid.uuid4(),
        "step": step,
        "source": BaselineTrial.Source.MICROPHONE,
        "made_at": timezone.now(),
        "figures": {"total_s": 12.0},
        **fields,
    }
    return BaselineTrial.objects.create(baseline=sheet or baseline(client, by=by), **made)


def item(code, **given):
    """Return an item of a document with its task's defaults and these ``params``."""
    params = given.pop("params", {})
    made = new_item(shipped_tasks()[code], id=given.pop("id", code.replace("_", "-")), **given)
    made["params"] |= params
    return made


def simple_document(*items, **more):
    """Return a document of these items (a straw on F3 by default)."""
    made = empty_document(timezone.localdate()) | more
    return made | {"items": list(items or [item("straw_hold", notes=[53])])}


def publish_anyway(client, document, *, by):
    """Publish this document, with a reason for every stop of the check."""
    try:
        return publish_document(client, document, by=by)
    except OpenStops as stops:
        overruled = {**document, "overrules": dict.fromkeys(stops.keys, "meant so for a test")}
        return publish_document(client, overruled, by=by)
