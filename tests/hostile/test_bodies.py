"""Harmful files, forms and frames: limited before they are read, or rejected in under a second."""

import asyncio
import json
import re
import time

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import IntegrityError, transaction
from django.urls import reverse
from django.utils import timezone

from tests.factories import item, simple_document, trial
from tests.pages import read
from web.accounts.address import address_of
from web.catalogue.views.tasks import EXAMPLE
from web.config.body_limit import BodyLimit
from web.record.models import Trial
from web.sound.takes import HEADER, UNANSWERED_S, Take
from web.ui.logs import cut_secret_paths

#: Maximum cost of a harmful request, as a multiple of the honest one in the same run.
DEARER = 40.0


def cost(act):
    """Return the result and the processor seconds it took."""
    begun = time.process_time()
    return act(), time.process_time() - begun


BOMB = "a: &a [x,x,x,x,x,x,x,x,x]\n" + "".join(
    f"{after}: &{after} [{','.join(['*' + before] * 9)}]\n"
    for before, after in zip("abcdefgh", "bcdefghi", strict=True)
)
YAML = {
    "aliases within aliases": BOMB,
    "one anchor": EXAMPLE.replace("hoy\n", "&s hoy\n", 1),
    "a deep list": "code: " + "[" * 400 + "]" * 400,
    "an object of the language": "!!python/object/apply:os.system ['true']",
    "half a character": EXAMPLE.replace("A strong", '"\\uD800', 1),
}


@pytest.mark.parametrize("text", YAML.values(), ids=YAML)
def test_an_own_task_made_to_hurt_is_refused_at_once(as_clinician, text):
    def add(words):
        return as_clinician.post(reverse("catalogue:add_own"), {"family": "loud", "text": words})

    add("code: [")  # The first page of a process costs more than the others.
    _, usual_s = cost(lambda: add("code: ["))
    page, spent_s = cost(lambda: add(text))
    assert spent_s < DEARER * usual_s
    assert page.status_code == 200
    assert re.search(
        r"(The text|Line \d+) cannot be read|The task cannot be saved", page.content.decode()
    )


PROGRAMMES = {
    "eight megabytes": lambda: json.dumps({"items": ["x" * 8_000_000]}),
    "a hundred thousand keys": lambda: json.dumps({str(n): n for n in range(100_000)}),
    "items that are nothing": lambda: json.dumps({"items": [{}] * 60, "dose": {}}),
    "an item of many keys": lambda: json.dumps(
        {**simple_document(), "items": [{str(n): n for n in range(20_000)}]}
    ),
    "deep": lambda: '{"items":' * 2000 + "1" + "}" * 2000,
    "a number beyond all": lambda: '{"items": [1e999]}',
}


@pytest.mark.parametrize("made", PROGRAMMES.values(), ids=PROGRAMMES)
def test_a_programme_made_to_hurt_is_refused_within_a_second(as_clinician, person, made):
    text = made()
    url = reverse("programmes:bring_in", args=[person.pk])

    def bring(words):
        return as_clinician.post(url, {"file": SimpleUploadedFile("p.json", words.encode())})

    whole = json.dumps(simple_document(*[item("hum_hold", id=f"i{n}") for n in range(60)]))
    bring(whole)
    _, usual_s = cost(lambda: bring(whole))
    response, spent_s = cost(lambda: bring(text))
    assert spent_s < DEARER * usual_s
    assert response.status_code == 200
    edit = reverse("programmes:edit", args=[person.pk])
    body = json.dumps({"document": text}) if len(text) > 2_000_000 else f'{{"document": {text}}}'
    answer, spent_s = cost(lambda: as_clinician.post(edit, body, content_type="application/json"))
    assert spent_s < DEARER * usual_s
    assert answer.status_code in (400, 413, 422)


def test_a_name_with_line_breaks_is_kept_on_one(as_clinician, person):
    page = as_clinician.get(reverse("clients:record", args=[person.pk]))
    form = page.context["form"]
    said = {name: form[name].value() or "" for name in form.fields}
    said |= {"name": "Tamsin\r\nBcc: x@y.example", "edition": person.edition}
    said |= {"cautions": [], "props": []}
    as_clinician.post(reverse("clients:record", args=[person.pk]), said)
    person.refresh_from_db()
    assert "\n" not in person.name
    assert person.name.startswith("Tamsin Bcc")


def test_the_database_is_the_last_to_refuse_a_time(task):
    row = trial(task)
    for moment in ("0001-01-01T00:00:00Z", "9999-12-31T00:00:00Z", "1999-12-31T00:00:00Z"):
        with pytest.raises(IntegrityError), transaction.atomic():
            Trial.objects.filter(pk=row.pk).update(performed_at=moment)


class Receiver:
    """The server's end of one request."""

    def __init__(self, *bodies):
        self.bodies = list(bodies)
        self.sent = []

    async def receive(self):
        body = self.bodies.pop(0)
        return {"type": "http.request", "body": body, "more_body": bool(self.bodies)}

    async def send(self, message):
        self.sent.append(message)


@pytest.mark.django_db(transaction=True)
@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ([(b"content-length", b"70000")], 413),
        ([(b"content-length", b"70000"), (b"cookie", b"sessionid=made-up")], 413),
        ([(b"content-length", b"70000"), (b"x-practice-page", b"x")], 401),
        ([(b"content-length", b"60000")], None),
    ],
)
def test_an_anonymous_request_may_only_be_small(headers, status):
    reached = []

    async def application(scope, receive, send):
        reached.append(await receive())

    async def story():
        end = Receiver(b"x" * 60_000)
        scope = {"type": "http", "method": "POST", "headers": headers}
        await BodyLimit(application)(scope, end.receive, end.send)
        return end.sent

    sent = asyncio.run(story())
    assert (sent[0]["status"] if sent else None) == status
    assert bool(reached) == (status is None)


def test_a_body_longer_than_it_said_is_cut_off(db):
    got = []

    async def application(scope, receive, send):
        for _ in range(3):
            got.append((await receive())["type"])

    async def story():
        end = Receiver(b"x" * 60_000, b"x" * 60_000, b"x")
        headers = [(b"content-length", b"1000")]
        scope = {"type": "http", "method": "POST", "headers": headers}
        await BodyLimit(application)(scope, end.receive, end.send)

    asyncio.run(story())
    assert got[:2] == ["http.request", "http.disconnect"]


def numbered_chunk(first, samples):
    return np.array([first], HEADER).tobytes() + samples.astype("<i2").tobytes()


def test_an_empty_or_repeated_chunk_costs_no_memory():
    take = Take(16_000)
    whole = numbered_chunk(0, np.zeros(16_000))
    take.add(whole)
    kept = len(take._chunks), take._live._track.pitch_hz.size
    for _ in range(1_000):
        take.add(whole)
        take.add(numbered_chunk(take.samples_in, np.zeros(0)))
    assert (len(take._chunks), take._live._track.pitch_hz.size) == kept
    # No package fixes the wording of its message.
    assert all(chunk.base is None for chunk in take._chunks)


def test_a_minute_without_an_answer_ends_a_take():
    take = Take(8_000)
    second = np.zeros(8_000)
    for at in range(UNANSWERED_S + 2):
        assert take.is_unanswered == (at > UNANSWERED_S)
        take.add(numbered_chunk(take.samples_in, second))
    assert take.is_unanswered


class FakeRequest:
    def __init__(self, forwarded):
        self.META = {"REMOTE_ADDR": "10.0.0.1"}
        self.headers = {"X-Forwarded-For": forwarded}


@pytest.mark.parametrize(
    ("hops", "forwarded", "found"),
    [
        (0, "6.6.6.6", "10.0.0.1"),
        (1, "6.6.6.6, 5.5.5.5", "5.5.5.5"),
        (2, "6.6.6.6, 5.5.5.5, 4.4.4.4", "5.5.5.5"),
        (2, "5.5.5.5", "10.0.0.1"),
        (1, "", "10.0.0.1"),
    ],
)
def test_an_address_is_believed_as_far_as_our_own_proxies_reach(settings, hops, forwarded, found):
    settings.TRUSTED_PROXY_HOPS = hops
    assert address_of(FakeRequest(forwarded)) == found


def test_no_logged_path_contains_a_secret():
    line = '127.0.0.1 - "GET /practice/with/k7d2-m9xp/ HTTP/1.1" 200'
    assert cut_secret_paths(line) == '127.0.0.1 - "GET /practice/with/… HTTP/1.1" 200'
    assert cut_secret_paths("/choose-password/MQ/abc-def/ 200") == "/choose-password/… 200"
    inside = "/sign-in/?next=%2Fpractice%2Fwith%2Freed-f3aa%2F&x=1"
    assert cut_secret_paths(inside) == "/sign-in/?next=%2Fpractice%2Fwith%2F…&x=1"
    assert "forged" not in cut_secret_paths("/reminders/off/forged?x=1")


def test_guessing_codes_ends_for_that_address_alone(client, person, db):
    url = reverse("practice:code")
    answers = [client.post(url, {"code": f"none-{n}"}).status_code for n in range(32)]
    assert answers[0] == 200
    assert answers[-1] == 429
    from_elsewhere = {"REMOTE_ADDR": "10.9.8.7"}
    again = client.post(url, {"code": "none-such"}, **from_elsewhere)
    assert again.status_code == 200


def test_twenty_wrong_pins_from_anywhere_void_a_link_and_the_clinician_sees_it(
    client, as_clinician, person, clock
):
    url = reverse("practice:enter", args=[person.practice_code])
    for number in range(20):
        clock(timezone.now().replace(microsecond=0) if number % 6 else timezone.now())
        type(person).objects.filter(pk=person.pk).update(pin_waits_until=None)
        client.post(url, {"pin": f"{number:06}"}, REMOTE_ADDR=f"10.0.0.{number}")
    assert client.post(url, {"pin": "135791"}).status_code == 410
    assert "was disabled after too many wrong PINs" in read(
        as_clinician.get(reverse("decisions:board"))
    )
    link = reverse("clients:practice_link", args=[person.pk])
    assert (
        "after too many wrong PINs. Create a new link and give it to the client in person."
        in as_clinician.get(link).content.decode()
    )
    as_clinician.post(link)
    person.refresh_from_db()
    assert person.link_voided_at is None


def test_an_item_that_is_whole_is_still_taken(as_clinician, person):
    text = json.dumps(simple_document(item("straw_hold", notes=[53])))
    url = reverse("programmes:bring_in", args=[person.pk])
    page = as_clinician.post(url, {"file": SimpleUploadedFile("p.json", text.encode())})
    assert "Straw in air" in page.content.decode()
