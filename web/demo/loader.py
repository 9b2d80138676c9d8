"""Fills a database with the made-up clinic; its tries are real measurements of a made-up voice."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, datetime, time, timedelta
from typing import TYPE_CHECKING, Any
from uuid import NAMESPACE_URL, uuid5
from zoneinfo import ZoneInfo

import numpy as np
from django.contrib.auth.hashers import make_password
from django.db import transaction

from reedcore.pitch import Note
from reedcore.programme.document_values import programme_document
from reedcore.programme.starting import starting_programme
from reedcore.synthvoice import HeldVoice, VoicedPart, speak
from web.accounts.models import Clinic, User
from web.baseline.models import ReferenceFigure
from web.catalogue.queries import all_tasks
from web.clients.actions import set_practice_access
from web.clients.models import Client, Helper
from web.intake.actions import record_by_hand, record_sound
from web.intake.clock import Moment
from web.practice.models import Tablet
from web.practice.simulated import OWN_HZ, vowel_of
from web.programmes.actions import publish_document, publish_programme
from web.programmes.drafting import save_draft
from web.record.figures import client_figures
from web.record.models import PrescribedTask, Trial
from web.record.programmes import note_hz
from web.screening.actions import record_screen

from .baselines import load_baseline
from .histories import Historian
from .people import CLIENT_PIN, CLINIC, CLINICIAN_PASSWORD, CLINICIANS, PEOPLE
from .records import CLINIC_SETTINGS, DRAFTS, HANDED_OVER, RECORDS, REFERENCE, TABLETS
from .stories import STORIES
from .voices import VOICES

if TYPE_CHECKING:
    from web.demo.people import DemoClient, Stage

_STORIES = {story.code: story for story in STORIES}
#: Enough for voice; a third of the work of 48 kHz.
RATE_HZ = 16_000
_KEYS = uuid5(NAMESPACE_URL, "still-reed:demo")


def load_demo(today: date, say: Callable[..., Any] = lambda words: None) -> None:
    """Load the demo in one transaction.

    ``today`` anchors the stories; the same day gives the same data, try for try.
    """
    with transaction.atomic():
        clinic = Clinic.objects.create(**CLINIC, **CLINIC_SETTINGS)
        for measure, age_band, voice, low, high, source in REFERENCE:
            ReferenceFigure.objects.create(
                clinic=clinic, measure=measure, age_band=age_band, voice=voice, low=low, high=high,
                source=source,
            )  # fmt: skip
        # Hashing takes a second or more by design, so the demo accounts share their hashes.
        password, pin = make_password(CLINICIAN_PASSWORD), make_password(CLIENT_PIN)
        clinicians = [_clinician(clinic, password, *names) for names in CLINICIANS]
        clinic.deputy, clinic.lead = clinicians[1], clinicians[0]
        clinic.save()
        for number, person in enumerate(PEOPLE):
            say(f"  {person.name}, {person.occupation}")
            _load_person(clinic, clinicians[number % 2], number, person, pin, today)
        for name, codes in TABLETS:
            tablet = Tablet.objects.create(clinic=clinic, name=name, made_by=clinic.lead)
            tablet.clients.set(clinic.clients.filter(practice_code__in=codes))


def _clinician(
    clinic: Clinic, password: str, username: str, first_name: str, last_name: str
) -> User:
    return User.objects.create(
        username=username,
        password=password,
        email=f"{username}@saltmarsh.example",
        first_name=first_name,
        last_name=last_name,
        role=User.Role.CLINICIAN,
        clinic=clinic,
    )


def _load_person(
    clinic: Clinic, clinician: User, number: int, person: DemoClient, pin: str, today: date
) -> None:
    client = _record(clinic, clinician, person, today)
    account = User(username=f"client-{person.code}", role=User.Role.CLIENT, clinic=clinic)
    set_practice_access(client, account=account, code=person.code, hashed_pin=pin)
    story = _STORIES.get(person.code)
    if story and story.helper:
        name, relation = story.helper
        helps = User(username=f"helper-{person.code}", role=User.Role.HELPER, clinic=clinic)
        helper = Helper.objects.create(client=client, name=name, relation=relation)
        set_practice_access(helper, account=helps, code=f"{person.code}-too", hashed_pin=pin)
    for stage in person.stages:
        first = _moment(clinic, today - timedelta(days=stage.from_day), 9)
        task = PrescribedTask(
            sound=person.sound,
            note_midi=Note.named(person.note).midi if person.note else None,
            target_s=stage.target_s,
            tries=stage.tries,
        )
        publish_programme(client, by=clinician, task=task, at=first)
        for days_ago in range(stage.from_day, stage.to_day - 1, -1):
            if days_ago not in stage.skipped:
                _practise(clinic, task, stage, number, days_ago, today)
    _compose(client, clinician, person, today)
    if story:
        Historian(client, story, by=clinician, today=today, key_space=_KEYS).write()


def _compose(client: Client, clinician: User, person: DemoClient, today: date) -> None:
    """Create a whole programme: published this morning, or a draft in the composer."""
    code = HANDED_OVER.get(person.code) or DRAFTS.get(person.code)
    if code is None:
        return
    tasks = all_tasks(client.clinic)
    programme = starting_programme(code, client_figures(client), tasks, today=today)
    document = programme_document(programme)
    if person.code in HANDED_OVER:
        at = _moment(client.clinic, today, 8)
        publish_document(client, document, by=clinician, reason="the whole session", at=at)
    else:
        save_draft(client, document, by=clinician)


def _record(clinic: Clinic, clinician: User, person: DemoClient, today: date) -> Client:
    """Create the record, the screening, and the baselines."""
    written = dict(RECORDS.get(person.code, {}))
    baselines = written.pop("baselines_days_ago", ())
    for days, name in (
        ("examined_days_ago", "examined_on"),
        ("changed_days_ago", "voice_changed_on"),
    ):
        if days in written:
            written[name] = today - timedelta(days=written.pop(days))
    cautions = written.pop("cautions", [])
    said_so = written.pop("said_so", {})
    complaint = written.pop("complaint", "yes" if "examined_on" in written else "no")
    client = Client.objects.create(
        clinic=clinic,
        clinician=clinician,
        name=person.name,
        occupation=person.occupation,
        voice=person.voice,
        **written,
    )
    practises = person.stages or person.code in {*_STORIES, *HANDED_OVER, *DRAFTS}
    if practises or "examined_on" in written:  # Still unanswered.
        record_screen(
            client, by=clinician, flags=[], cautions=cautions, said_so=said_so,
            complaint=complaint, note="", at=_moment(clinic, today - timedelta(days=22), 9),
        )  # fmt: skip
        client.refresh_from_db()
    for days in baselines:
        at = _moment(clinic, today - timedelta(days=days), 10)
        load_baseline(client, by=clinician, at=at, key_space=_KEYS)
    return client


def _practise(
    clinic: Clinic, task: PrescribedTask, stage: Stage, number: int, days_ago: int, today: date
) -> None:
    rng = np.random.default_rng([number, days_ago])
    part = (stage.from_day - days_ago) / max(1, stage.from_day - stage.to_day)
    begun = _moment(clinic, today - timedelta(days=days_ago), 18, minute=int(rng.integers(0, 50)))
    sung = []
    for place in range(stage.tries):
        at = begun + timedelta(seconds=55 * place)
        key = uuid5(_KEYS, f"{number}/{days_ago}/{place}")
        held_s = _interpolate(stage.held_s, part) * (1 + rng.normal(0, 0.06))
        if days_ago == stage.from_day and place == 0:
            # The first trial of each stage was timed by hand, before the tablet was set up.
            record_by_hand(task, key=key, seconds=round(held_s, 1), at=Moment(at))
            continue
        cents = _interpolate(stage.error_cents, part) + rng.normal(0, 5)
        breaks = rng.integers(10) < stage.breaks
        voice = VoicedPart(
            seconds=held_s,
            pitch_hz=(note_hz(task) or OWN_HZ) * 2 ** (cents / 1200),
            vowel=vowel_of(task),
            jitter_cents=stage.shaky_cents,
            drift_cents=float(rng.normal(-10, 12)),
            scoop_cents=-60.0,
            fall_db=float(rng.uniform(0, 4)),
            breaks=((held_s * rng.uniform(0.4, 0.8), 0.13),) if breaks else (),
        )
        held = HeldVoice(voice, lead_s=0.7, tail_s=0.7, seed=int(rng.integers(1 << 30)))
        sung.append((key, at, VOICES.submit(speak, held, rate_hz=RATE_HZ)))
    for key, at, spoken in sung:
        clip = spoken.result()
        record_sound(
            task,
            key=key,
            source=Trial.Source.SIMULATED,
            samples=clip.samples,
            rate_hz=clip.rate_hz,
            at=Moment(at),
        )


def _interpolate(ends: tuple[Any, ...], part: float) -> float:
    return ends[0] + (ends[1] - ends[0]) * part


def _moment(clinic: Clinic, day: date, hour: int, minute: int = 0) -> datetime:
    return datetime.combine(day, time(hour, minute), ZoneInfo(clinic.time_zone))
