"""Shared by the rehearsals: a client who practises without a pause, a clinician who opens every
page, processes that are killed and restarted, and the final count of stored entries."""

import json
import os
import re
import signal
import subprocess
import sys
import threading
import time
import uuid
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path

import psycopg
import requests

from tests.hostile.smtp import Letters
from tests.sealed import sealed_to

ROOT = Path(__file__).resolve().parents[1]
NAME = "still_reed_rehearsed"
#: A device gives up on an answer after this long and sends the same again; a load balancer reports
#: that the site is away.
PATIENCE_S, AWAY = 30, (502, 503, 504)
#: Requests that must succeed before nothing counts as lost: one and a half rounds of pages.
ENTRIES, PAGES = 20, 15
PYTHON = str(ROOT / ".venv/bin/python")
SEED = """
import json
from tests.factories import *
clinic = ClinicFactory()
who = ClinicianFactory(clinic=clinic, username="imre", email="imre@saltmarsh.example")
person = ClientFactory(clinic=clinic, name="Tamsin Orrell", clinician=who)
task = prescribe(person, by=who)
print(json.dumps({"client": person.pk, "code": person.practice_code, "task": task.pk, "pin": PIN,
                  "password": PASSWORD, "version": task.programme.version}))
"""
HELPED = """
from web.clients.actions import add_helper
from web.clients.models import Client
print(add_helper(Client.objects.get(pk={client}), name="Ana", relation="daughter").pk)
"""


def say(words: str) -> None:
    """Print a progress line."""
    sys.stdout.write(f"  {words}\n")
    sys.stdout.flush()


def is_so(what: str, so: bool, why: object = "") -> None:
    """Print a confirmed statement, or stop."""
    say(f"{'✓' if so else '✗'} {what}")
    if not so:
        raise SystemExit(str(why))


def _a_moment() -> None:
    threading.Event().wait(0.1)


def until(true: Callable[[], bool], seconds: float = 120.0) -> bool:
    """Return whether the condition becomes true in time; checked repeatedly."""
    ends = time.monotonic() + seconds
    while not true():
        if time.monotonic() > ends:
            return False
        _a_moment()
    return True


class Site:
    """A serving process and a worker from one source tree, with the shared database.

    Args:
        address: where it serves, as `127.0.0.1:8131`.
        inside: what a command is put behind, for a host of its own.
    """

    def __init__(
        self, tree: Path, environment: dict[str, str], address: str, inside: tuple[str, ...] = ()
    ) -> None:
        self.tree, self.environment, self.address, self.inside = tree, environment, address, inside
        self.logs = Path(environment["LOGS"])
        self.running: list[subprocess.Popen] = []

    def manage(self, *words: str) -> str:
        """Run one of its commands to the end."""
        done = subprocess.run(
            [PYTHON, "manage.py", *words], cwd=self.tree, env=self.environment, text=True,
            capture_output=True, check=False,
        )  # fmt: skip
        if done.returncode:
            raise SystemExit(done.stdout + done.stderr)
        return done.stdout.strip().splitlines()[-1] if done.stdout.strip() else ""

    def start(self) -> None:
        """Start a serving process and a worker."""
        self.serve()
        self._runs("manage.py", "worker")

    def serve(self) -> None:
        """Start a serving process and wait until it answers."""
        host, port = self.address.split(":")
        words = ("-m", "uvicorn", "web.config.asgi:application", "--host", host, "--port", port)
        self._runs(*words, "--log-level", "warning", "--lifespan", "off")
        if not until(self._answers):
            raise SystemExit("It does not serve.")

    def _answers(self) -> bool:
        try:
            there = f"http://{self.address}/health/live"
            return requests.get(there, headers={"Host": "localhost"}, timeout=5).ok
        except requests.ConnectionError:
            return False

    def _runs(self, *words: str) -> None:
        name = f"{self.address}-{words[1]}.log"
        with (self.logs / name).open("a") as log:
            made = subprocess.Popen(
                [*self.inside, PYTHON, *words],
                cwd=self.tree,
                env=self.environment,
                stdout=log,
                stderr=log,
            )
        self.running.append(made)

    def kill_and_restart(self) -> None:
        """Kill it without a chance to finish, as a machine fault would, and restart it."""
        serving = self.running.pop(0)
        serving.kill()
        serving.wait()
        self.serve()

    def ends(self) -> None:
        """Stop it, as for a restart."""
        for each in self.running:
            each.send_signal(signal.SIGTERM)
        for each in self.running:
            each.wait(60)
        self.running = []


class SiteBrowser:
    """A browser that asks the serving sites in turn, and the next one if there is no answer."""

    def __init__(self, serving: list[str]) -> None:
        self.serving, self.turn, self.browser = serving, 0, requests.Session()
        self.lost: list[str] = []
        #: Answers of a load balancer without a site behind it; a person sees a broken page.
        self.refusals: list[str] = []

    def request(self, how: str, path: str, **more: object) -> requests.Response:
        """Send a request as a load balancer would."""
        for _ in range(600):
            self.turn += 1
            address = self.serving[self.turn % len(self.serving)]
            token = self.browser.cookies.get("csrftoken", "")
            try:
                answer = self.browser.request(
                    how, f"http://{address}{path}", timeout=PATIENCE_S,
                    headers={"X-CSRFToken": token}, **more,
                )  # fmt: skip
            except (requests.ConnectionError, requests.Timeout):
                answer = None
            if answer is not None and answer.status_code not in AWAY:
                return answer
            if answer is not None:
                self.refusals.append(f"{answer.status_code} {how} {path}")
            _a_moment()
        raise SystemExit(f"Nobody answers at {path}")

    def form(self, path: str, **fields: str) -> requests.Response:
        """Open a form and send it."""
        self.request("get", path)
        return self.request("post", path, data=fields)

    def check_answer(self, answer: requests.Response) -> requests.Response:
        """Record unexpected answers, including redirects to the sign-in page."""
        if answer.status_code != 200 or answer.history:
            self.lost.append(f"{answer.status_code} {answer.url} {answer.text[:200]}")
        return answer


def now() -> str:
    """Return the current time in a device's format."""
    return datetime.now(UTC).isoformat()


class Device(SiteBrowser):
    """A client who practises without a pause."""

    def __init__(self, serving: list[str], known: dict) -> None:
        super().__init__(serving)
        self.known, self.arrived, self.going = known, [], True
        self.form(f"/practice/with/{known['code']}/", pin=known["pin"])
        self.session = self.sitting()

    def sitting(self, **more: object) -> dict:
        """Return a session in a device's format."""
        return {
            "key": str(uuid.uuid4()), "version": self.known["version"], "sort": "full",
            "day": "usual", "voice": "as_usual", "begun_at": now(), "planned": 1, **more,
        }  # fmt: skip

    def token(self) -> str:
        """Return the page's token for stop reports."""
        return self.of_page("page")

    def of_page(self, name: str) -> str:
        """Return a value of the page by name."""
        page = self.check_answer(self.request("get", "/practice/")).text
        return re.search(rf'data-{name}="([^"]+)"', page)[1]

    def send(self, kind: str, *, session: dict | None = None, **more: object) -> str:
        """Send one entry; return its key."""
        key, said = self.entry(kind, session, more)
        body = {"entry": json.dumps(said), "sent_at": now()}
        if (
            self.check_answer(self.request("post", "/practice/entries/", data=body)).status_code
            == 200
        ):
            self.arrived.append(key)
        return key

    def entry(self, kind: str, session: dict | None, more: dict) -> tuple[str, dict]:
        """Return an event's entry, and its key."""
        key = str(uuid.uuid4())
        session = session or self.session
        return key, {"key": key, "at": now(), "kind": kind, "session": session, **more}

    def send_encrypted(self, to: str, kind: str, **more: object) -> None:
        """Send one entry of a closed page in encrypted form until it is accepted: a server that
        cannot decrypt rejects it without a message."""
        key, said = self.entry(kind, None, more)
        for _ in self.serving:
            files = {"sealed": sealed_to(to, said)}
            answer = self.request(
                "post", "/practice/entries/", data={"sent_at": now()}, files=files
            )
            if answer.status_code == 200:
                self.arrived.append(key)
                return
            if answer.status_code != 422 or answer.json().get("state") == "refused":
                break
        self.lost.append(f"{answer.status_code}, sealed: {answer.text[:200]}")

    def stop(self, page: str) -> dict:
        """Report an emergency with a page's own token."""
        return {"key": str(uuid.uuid4()), "at": now(), "sent_at": now(), "flags": ["breathing"],
                "session": self.session["key"], "page": page}  # fmt: skip

    def report_problem(self, page: str) -> None:
        """Report a problem, and check that the clinic has it."""
        self.check_answer(self.request("post", "/practice/stop/", json=self.stop(page)))

    def practise(self) -> None:
        """Practise until stopped."""
        while self.going:
            self.send("timed", task=self.known["task"], seconds=4.0)
            _a_moment()


class Desk(SiteBrowser):
    """A clinician who opens every page again and again."""

    def __init__(self, serving: list[str], known: dict) -> None:
        super().__init__(serving)
        self.known, self.going, self.seen = known, True, 0
        self.form("/sign-in/", username="imre", password=known["password"])

    def look(self) -> None:
        """Open pages until stopped."""
        here = f"/clients/{self.known['client']}/"
        own = ("", "record/", "programmes/", "notes/", "practice-link/", "targets/")
        clinics = ("/board/", "/clients/", "/clients/people/", "/clients/clinic/")
        pages = [*clinics, *(here + each for each in own)]
        while self.going:
            for page in pages:
                self.check_answer(self.request("get", page))
                self.seen += 1


def _postgres() -> str:
    """Return the address of this checkout's PostgreSQL without a database name."""
    told = subprocess.run(
        [PYTHON, "-c", "from django.conf import settings as s; d = s.DATABASES['default'];"
         "print(f\"postgres://{d['USER']}:{d['PASSWORD']}@{d['HOST']}:{d['PORT']}\")"],
        cwd=ROOT, env={**os.environ, "DJANGO_SETTINGS_MODULE": "web.config.settings.test"}, text=True,
        capture_output=True, check=True,
    )  # fmt: skip
    return told.stdout.strip()


@contextmanager
def rehearsed(folder: Path, where: str = "") -> Iterator[tuple[dict[str, str], Letters]]:
    """Prepare a database and a mail server for the rehearsal, and the environment that names them.

    Args:
        where: of another PostgreSQL than this checkout's.
    """
    where, letters = where or _postgres(), Letters()
    with psycopg.connect(f"{where}/postgres", autocommit=True) as line:
        line.execute(f"DROP DATABASE IF EXISTS {NAME} WITH (FORCE)")
        line.execute(f"CREATE DATABASE {NAME}")
    try:
        yield {
            **os.environ, "DATABASE_URL": f"{where}/{NAME}", "EMAIL_URL": letters.url,
            "DJANGO_SETTINGS_MODULE": "web.config.settings.test", "LOGS": str(folder),
        }, letters  # fmt: skip
    finally:
        letters.close()
        with psycopg.connect(f"{where}/postgres", autocommit=True) as line:
            line.execute(f"DROP DATABASE IF EXISTS {NAME} WITH (FORCE)")


class BothAtWork:
    """The client and the clinician at work."""

    def __init__(self, serving: list[str], known: dict) -> None:
        self.device, self.desk = Device(serving, known), Desk(serving, known)
        work = (self.device.practise, self.desk.look)
        self.threads = [threading.Thread(target=each, daemon=True) for each in work]
        for each in self.threads:
            each.start()

    def check_nothing_lost(self, what: str) -> None:
        """Check that both make progress, and that nothing is rejected."""
        arrived, seen = len(self.device.arrived) + ENTRIES, self.desk.seen + PAGES
        on = until(lambda: len(self.device.arrived) >= arrived and self.desk.seen >= seen)
        lost = self.device.lost + self.desk.lost
        is_so(what, on and not lost, lost or "They do not get on.")

    def ends(self) -> None:
        """Stop both, and print their counts."""
        self.device.going = self.desk.going = False
        for each in self.threads:
            each.join(120)
        say(f"{len(self.device.arrived)} entries, {self.desk.seen} pages")


def counted(database: str, device: Device, letters: Letters, *, others: int) -> None:
    """Compare stored rows with acknowledged entries; ``others`` are entries that are not tries."""
    told = "SELECT count(*) FROM clients_stop WHERE delivered_at IS NOT NULL"
    with psycopg.connect(database, autocommit=True) as line:
        kept = {str(key) for (key,) in line.execute("SELECT key FROM practice_trial")}
        until(lambda: line.execute(told).fetchone()[0] >= 2)
        delivered = line.execute(told).fetchone()[0]
    arrived = set(device.arrived)
    so = kept <= arrived and len(arrived - kept) == others
    is_so("each try that arrived is there once", so, arrived ^ kept)
    is_so("both stops were told of", delivered == 2, delivered)
    numbers = [letter["Message-ID"] for letter in letters.letters]
    is_so("no letter came twice", 0 < len(numbers) == len(set(numbers)) <= 2, numbers)
