"""``python -m bench.pages``: server time of the pages a clinician waits for, on a full clinic.

In a database of its own beside the demo's, made for the run and dropped after it.
"""

from __future__ import annotations

import json
import os
import time
import uuid
from collections.abc import Callable
from dataclasses import replace
from datetime import timedelta
from statistics import median

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "web.config.settings.test")
django.setup()

from django.db import connection  # noqa: E402
from django.test import Client as Browser  # noqa: E402
from django.test.utils import CaptureQueriesContext  # noqa: E402
from django.utils import timezone  # noqa: E402

from reedcore.catalogue.tasks import shipped_tasks  # noqa: E402
from reedcore.checks import check  # noqa: E402
from reedcore.programme.document import empty_programme, new_item  # noqa: E402
from reedcore.programme.document_values import programme_document  # noqa: E402
from reedcore.programme.plan import plan_of  # noqa: E402
from reedcore.programme.programme import Programme  # noqa: E402
from web.accounts.models import Clinic, User  # noqa: E402
from web.baseline.models import Baseline, BaselineTrial, Target  # noqa: E402
from web.clients.models import Client  # noqa: E402
from web.programmes.models import Draft  # noqa: E402
from web.record.client_context import person_of  # noqa: E402

CLIENTS, BASELINES, HISTORY = 2000, 12, 300


def fill() -> tuple[User, Client]:
    """Create a clinic of 2,000 clients, one of them with three years of sheets and changes."""
    clinic = Clinic.objects.create(name="Benchmark clinic")
    user = User.objects.create_user(f"bench-{uuid.uuid4()}", role="clinician", clinic=clinic)
    Client.objects.bulk_create(
        Client(clinic=clinic, name=f"Client number {n}", occupation="net-mender")
        for n in range(CLIENTS)
    )
    one = clinic.clients.first()
    past = Client.history.model
    past.objects.bulk_create(
        past(
            id=one.pk, clinic=clinic, name=one.name, created_at=timezone.now(),
            history_date=timezone.now() - timedelta(days=3 * n), history_type="~",
        )
        for n in range(HISTORY)
    )  # fmt: skip
    for number in range(BASELINES):
        at = timezone.now() - timedelta(days=90 * number)
        sheet = Baseline.objects.create(client=one, begun_at=at, begun_by=user)
        BaselineTrial.objects.bulk_create(
            BaselineTrial(
                key=uuid.uuid4(), baseline=sheet, step=step, source="typed", made_at=at,
                figures={"total_s": 12.0 + place},
            )
            for step in ("vowel", "s", "z")
            for place in range(3)
        )  # fmt: skip
        Target.objects.bulk_create(
            Target(
                client=one, baseline=sheet, kind="hold", rule="longest_s", decision="accepted",
                values={"today_s": 12.0}, proposed={}, inputs={}, decided_at=at, decided_by=user,
            )
            for _ in range(3)
        )  # fmt: skip
    return user, one


def time_page(
    browser: Browser, path: str, *, times: int = 9, before: Callable[[], object] = lambda: None
) -> tuple[float, float, int]:
    """Return milliseconds of server time and of processor time without the database (medians), and
    the number of queries."""
    before()
    browser.get(path)
    taken, worked = [], []
    for _ in range(times):
        before()
        begun, at_work = time.perf_counter(), time.process_time()
        response = browser.get(path)
        taken.append(1000 * (time.perf_counter() - begun))
        worked.append(1000 * (time.process_time() - at_work))
        assert response.status_code == 200, path  # noqa: S101
    before()
    with CaptureQueriesContext(connection) as queries:
        browser.get(path)
    return median(taken), median(worked), len(queries)


def programme(count: int) -> Programme:
    """Create a programme of this many items, every family of the catalogue in turn."""
    tasks = list(shipped_tasks().values())
    items = [new_item(tasks[n % len(tasks)], id=f"i{n}") for n in range(count)]
    pitched = [
        replace(each, notes=(50, 57))
        if shipped_tasks()[each.task].measure in ("hold", "glide")
        else each
        for each in items
    ]
    return replace(empty_programme(timezone.localdate()), items=tuple(pitched))


def edit_programme(browser: Browser, client: Client) -> tuple[str, float, int]:
    """Edit a programme of 60 items: stored, drawn, counted and checked."""
    user = client.clinic.users.first()
    document = programme_document(programme(60))
    Draft.objects.create(client=client, document=document, edition=1, changed_by=user)
    path, taken = f"/clients/{client.pk}/compose/edit/", []

    def body(number: int) -> str:
        what = {"do": "type", "item": "i3", "name": "reason", "said": f"for the {number}th time"}
        edits = [{"number": number, "seen": number, "edit": what}]
        return json.dumps({"page": "p" * 12, "chosen": "i3", "edits": edits})

    for number in range(1, 10):
        begun = time.perf_counter()
        response = browser.post(path, body(number), content_type="application/json")
        taken.append(1000 * (time.perf_counter() - begun))
        assert response.status_code == 200, response.content  # noqa: S101
        assert not response.json()["not_made"], response.json()["not_made"]  # noqa: S101
    with CaptureQueriesContext(connection) as queries:
        browser.post(path, body(10), content_type="application/json")
    return "edit among 60 items", median(taken), len(queries)


def check_forty_items(client: Client) -> tuple[str, float, int]:
    """Run the programme check alone on 40 items."""
    person, _ = person_of(client)
    plan = plan_of(programme(40), shipped_tasks())
    taken = []
    for _ in range(21):
        begun = time.perf_counter()
        check(plan, person)
        taken.append(1000 * (time.perf_counter() - begun))
    return "check of 40 items", median(taken), 0


def rows() -> list[tuple[str, float, int]]:
    """Return (page, milliseconds, queries)."""
    connection.settings_dict["TEST"]["NAME"] = "still_reed_bench"
    usual = connection.settings_dict["NAME"]
    connection.creation.create_test_db(verbosity=0, autoclobber=True)
    try:
        user, one = fill()
        browser = Browser()
        browser.force_login(user, "django.contrib.auth.backends.ModelBackend")
        pages = {
            f"list of {CLIENTS} clients": "/clients/",
            "search in it": "/clients/?find=number+19",
            "record, three years old": f"/clients/{one.pk}/record/",
            "baselines, two compared": f"/clients/{one.pk}/baselines/",
            "targets": f"/clients/{one.pk}/targets/",
        }
        found = []
        for name, path in pages.items():
            ms, _, queries = time_page(browser, path)
            found.append((name, ms, queries))
        return [*found, edit_programme(browser, one), check_forty_items(one)]
    finally:
        connection.creation.destroy_test_db(usual, verbosity=0)


if __name__ == "__main__":
    for name, ms, queries in rows():
        print(f"{name:28} {ms:6.1f} ms {queries:4} queries")
