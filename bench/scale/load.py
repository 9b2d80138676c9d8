"""Fills a database by SQL's own set operations: a clinic is made once in full, then multiplied.

One clinic of 60 clients with a year each is looked at; it is the same at every size. Other clinics,
of 60 clients each, are what the database grows by.
"""

from __future__ import annotations

import uuid
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from typing import Any

import numpy as np
from django.db import connection, models
from django.utils import timezone

from reedcore.catalogue.tasks import shipped_tasks
from reedcore.formats.trace import STEP_S, PitchTrace, pack_trace
from reedcore.programme.document import empty_programme, new_item
from reedcore.programme.document_values import programme_document
from web.accounts.models import Clinic, User
from web.clients.models import Client
from web.programmes.actions import OpenStops, publish_document
from web.record.models import PrescribedTask, ProgrammeVersion, SelfReport, Session, Trial

CLINIC_SIZE, VERSIONS = 60, 4
#: Practised days a year, and tries per session, of each client.
LOOKED_AT, OTHERS = (111, 3), (261, 4)
#: One in this many tries has a trace: all in the measured clinic, a share elsewhere to save disk.
TRACED, TRACED_ELSEWHERE = 1, 10
DAYS = 360
Columns = dict[str, str]


@dataclass(frozen=True)
class Visit:
    """The signed-in user and the client of the measured pages."""

    user: User
    client: Client


def load_looked_at() -> Visit:
    """Create the measured clinic: 60 clients, a year each, 20 thousand tries."""
    clinic = Clinic.objects.create(name="Benchmark clinic", time_zone="Europe/Lisbon")
    user = _clinician(clinic)
    first = _client(clinic, user)
    _multiply_clients(first, CLINIC_SIZE - 1, clinic_of="t.clinic_id")
    _practice(f"c.clinic_id = {clinic.pk}", LOOKED_AT)
    _traces(f"c.clinic_id = {clinic.pk}", TRACED)
    connection.cursor().execute("VACUUM (ANALYZE)")  # As stored when the load has finished.
    return Visit(user, first)


def grow(clients: int) -> Visit:
    """Add clinics until there are this many clients; return the first new one."""
    more = clients - Client.objects.count()
    clinic = Clinic.objects.create(name="Another clinic", time_zone="Europe/Lisbon")
    user = _clinician(clinic)
    first = _client(clinic, user)
    base = clinic.pk
    _copy(Clinic, clinic.pk, -(-more // CLINIC_SIZE) - 1, {"id": "t.id + n"})
    newest = Client.objects.order_by("-pk").values_list("pk", flat=True)[0]
    _multiply_clients(first, more - 1, clinic_of=f"t.clinic_id + n / {CLINIC_SIZE}")
    _practice(f"c.clinic_id >= {base} AND c.id >= {newest}", OTHERS)
    _traces(f"c.clinic_id >= {base} AND c.id >= {newest}", TRACED_ELSEWHERE)
    connection.cursor().execute("VACUUM (ANALYZE)")  # As stored when the load has finished.
    return Visit(user, first)


def _clinician(clinic):
    name = f"bench-{uuid.uuid4()}"
    return User.objects.create(username=name, role=User.Role.CLINICIAN, clinic=clinic)


def _client(clinic, user) -> Client:
    """Create a client with several versions of a programme, as a clinician would."""
    client = Client.objects.create(clinic=clinic, name="Client number 0", clinician=user)
    start = timezone.now() - timedelta(days=DAYS)
    for version in range(VERSIONS):
        tasks = shipped_tasks()
        items = [
            new_item(tasks["straw_hold"], id="straw"),
            new_item(tasks["hum_hold"], id="hum"),
        ]
        asked = tuple(
            replace(each, notes=(53,), params={**each.params, "seconds": 6 + version, "reps": 4})
            for each in items
        )
        empty = empty_programme((start + timedelta(days=90 * version)).date())
        dose = replace(empty.dose, a_day=1, weekdays=tuple(range(7)), weeks=52)
        document = programme_document(replace(empty, items=asked, dose=dose))
        at = start + timedelta(days=90 * version)
        try:
            publish_document(client, document, by=user, at=at)
        except OpenStops as stops:
            overrules = dict.fromkeys(stops.keys, "benchmark")
            publish_document(client, document | {"overrules": overrules}, by=user, at=at)
    return client


def _multiply_clients(first, count, *, clinic_of):
    """Copy a client with all versions and tasks; keys follow the number of the copy."""
    apart = 100
    _copy(
        Client, first.pk, count,
        {"id": "t.id + n", "clinic_id": clinic_of, "name": "'Client number ' || n",
         "practice_code": "NULL", "account_id": "NULL"},
    )  # fmt: skip
    for programme in first.programmes.all():
        _copy(
            ProgrammeVersion, programme.pk, count,
            {"id": f"t.id + n * {apart}", "client_id": "t.client_id + n"},
        )  # fmt: skip
        for task in programme.tasks.all():
            _copy(
                PrescribedTask, task.pk, count,
                {"id": f"t.id + n * {apart}", "programme_id": f"t.programme_id + n * {apart}"},
            )  # fmt: skip
    for model in (Client, ProgrammeVersion, PrescribedTask, Clinic):
        table = model._meta.db_table
        connection.cursor().execute(
            f"SELECT setval(pg_get_serial_sequence('{table}', 'id'), max(id)) FROM {table}"
        )


def _practice(where: str, how: tuple[int, int]) -> None:
    """Create sessions, tries and reports of these clients, with one statement each."""
    sessions, tries = how
    _insert(
        Session,
        {
            "key": "gen_random_uuid()",
            "client_id": "c.id",
            "programme_id": "p.id",
            "sort": "'full'", "day": "'usual'", "voice": "'as_usual'", "place": "'home'",
            "begun_at": "d.at", "ended_at": "d.at + interval '9 minutes'", "ending": "'done'",
            "items_done": "2", "items_planned": "2", "device": "'tablet'",
        },
        f"""clients_client c
            CROSS JOIN generate_series(1, {sessions}) n
            CROSS JOIN LATERAL (
              SELECT now() - interval '1 day' * (n * {DAYS} / {sessions})
                     - interval '1 minute' * (c.id % 50) AS at) d
            JOIN LATERAL (
              SELECT id FROM programmes_programme WHERE client_id = c.id
              AND (published_at <= d.at OR version = 1) ORDER BY version DESC LIMIT 1) p ON true
            WHERE {where}""",
    )  # fmt: skip
    _insert(
        Trial,
        {
            "key": "gen_random_uuid()",
            "client_id": "s.client_id",
            "task_id": "t.id",
            "session_id": "s.key",
            "performed_at": "s.begun_at + interval '50 seconds' * n",
            "source": "'microphone'",
            "outcome": "CASE WHEN r.held >= t.target_s THEN 'met' ELSE 'not_met' END",
            "parts": """'[{"part": "seconds", "verdict": "met", "why": "reached"}]'::jsonb""",
            "total_s": "r.held", "steady_s": "r.held - 0.4", "median_hz": "174.6",
            "error_cents": "-6.0", "end_error_cents": "-9.0", "spread_cents": "14.0",
            "share_on_pitch": "0.97",
            "capture": """'{"device": "tablet", "browser": "tablet browser"}'::jsonb""",
        },
        f"""practice_session s
            JOIN clients_client c ON c.id = s.client_id AND {where}
            CROSS JOIN generate_series(1, {tries}) n
            JOIN programmes_prescribedtask t
              ON t.programme_id = s.programme_id AND t.position = 1 + n % 2
            CROSS JOIN LATERAL (
              -- "n" keeps the planner from drawing once for all tries of a session
              SELECT round((t.target_s * (0.92 + 0.2 * random()) + 0 * n)::numeric, 2)::float
              AS held) r""",
    )  # fmt: skip
    _insert(
        SelfReport,
        {
            "key": "gen_random_uuid()",
            "client_id": "s.client_id",
            "session_id": "s.key",
            "task_id": "t.id",
            "kind": "'effort'",
            "value": "to_jsonb(2 + (s.client_id % 3))",
            "said_at": "s.begun_at + interval '8 minutes'",
        },
        f"""practice_session s
            JOIN clients_client c ON c.id = s.client_id AND {where}
            JOIN programmes_prescribedtask t
              ON t.programme_id = s.programme_id AND t.position = 1""",
    )  # fmt: skip


def _traces(where: str, one_in: int) -> None:
    """Create a trace of eight seconds for one in this many of the clients' tries."""
    rng = np.random.default_rng(1)
    pitch = -1600.0 + rng.normal(0.0, 14.0, round(8.0 / STEP_S))
    trace = PitchTrace(pitch, rng.normal(-22.0, 1.0, pitch.size))
    connection.cursor().execute(
        f"""INSERT INTO practice_trace (trial_id, packed)
            SELECT t.key, %s FROM practice_trial t
            JOIN clients_client c ON c.id = t.client_id AND {where}
            WHERE abs(hashtext(t.key::text)) %% {one_in} = 0""",
        [pack_trace(trace)],
    )


def _copy(model: type[models.Model], pk: Any, count: int, changed: Columns) -> None:
    """Copy one row, numbered n from 1, with the values in ``changed``."""
    columns = [field.column for field in model._meta.concrete_fields]
    chosen = ", ".join(changed.get(name, f't."{name}"') for name in columns)
    names = ", ".join(f'"{name}"' for name in columns)
    table = model._meta.db_table
    connection.cursor().execute(
        f"INSERT INTO {table} ({names}) SELECT {chosen} FROM {table} t "
        f"CROSS JOIN generate_series(1, %s) n WHERE t.id = %s",
        [count, pk],
    )


def _insert(model: type[models.Model], columns: Columns, source: str) -> None:
    """Run one INSERT … SELECT; columns without a value get the model's default, or NULL."""
    filled = dict(columns)
    for field in model._meta.concrete_fields:
        if field.column in filled or field.null:
            continue
        usual = field.get_default()
        filled[field.column] = f"'{usual}'" if isinstance(usual, str) else _json(usual)
    names = ", ".join(f'"{name}"' for name in filled)
    connection.cursor().execute(
        f"INSERT INTO {model._meta.db_table} ({names}) "
        f"SELECT {', '.join(filled.values())} FROM {source}"
    )


def _json(usual):
    if isinstance(usual, datetime):  # Arrival time: the time of creation.
        return "now()"
    return {"[]": "'[]'::jsonb", "{}": "'{}'::jsonb"}[repr(usual)]
