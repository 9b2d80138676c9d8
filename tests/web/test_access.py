"""Every URL of the site, walked as everybody: who gets in, and who finds nothing there."""

import uuid

import pytest
from channels.testing import WebsocketCommunicator
from django.test import Client as Browser
from django.urls import URLResolver, get_resolver, reverse

from tests.factories import (
    ClientFactory,
    ClinicianFactory,
    baseline_trial,
    prescribe,
    simple_document,
)
from tests.web.conftest import run
from web.clients.models import ReferenceFigure
from web.clients.urls import websocket_urlpatterns as sheet_lines
from web.config.asgi import application
from web.practice.urls import websocket_urlpatterns
from web.programmes.actions import publish_document
from web.programmes.models import Programme
from web.sound.consumers import NOT_YOURS

IN, AWAY, NOT_THERE = "in", "to the sign-in page", "not there"

#: Path → (method, who: nobody, the client, another client, a clinician of another clinic, the clinician)
EVERYBODY = (IN, IN, IN, IN, IN)
CLINICIANS_OWN = (AWAY, NOT_THERE, NOT_THERE, NOT_THERE, IN)
CLINICIANS = (AWAY, NOT_THERE, NOT_THERE, IN, IN)
CLIENTS_OWN = (AWAY, IN, NOT_THERE, NOT_THERE, NOT_THERE)
ACCESS = {
    "accounts:home": ("get", EVERYBODY),
    "accounts:sign_in": ("get", EVERYBODY),
    "accounts:sign_out": ("post", EVERYBODY),
    "clients:list": ("get", CLINICIANS),
    "clients:new": ("get", CLINICIANS),
    "clients:clinic": ("get", CLINICIANS),
    "clients:add_reference": ("post", CLINICIANS),
    "clients:remove_reference": ("post", CLINICIANS_OWN),
    **{
        f"clients:{name}": (method, CLINICIANS_OWN)
        for method, names in {
            "get": "summary record screen letter letter_pdf baselines targets practice_link baseline"
            " baseline_simulated",
            "post": "archive restore declare_safe refer decide_target close_baseline calibrate"
            " spirometer baseline_typed baseline_entries baseline_recording baseline_trial",
        }.items()
        for name in names.split()
    },
    "calculators:all": ("get", CLINICIANS),
    "calculators:pattern_midi": ("get", CLINICIANS),
    "calculators:pattern_wav": ("get", CLINICIANS),
    "programmes:schema": ("get", CLINICIANS),
    **{
        f"programmes:{name}": (method, CLINICIANS_OWN)
        for method, names in {
            "get": "prescribe compose versions version handout handout_pdf calendar tones_midi"
            " sound_wav as_json bring_in",
            "post": "edit start discard publish accept_file",
        }.items()
        for name in names.split()
    },
    "catalogue:all": ("get", CLINICIANS),
    "catalogue:add_own": ("post", CLINICIANS),
    "catalogue:hide": ("post", CLINICIANS),
    "review:client": ("get", CLINICIANS_OWN),
    "review:tries_csv": ("get", CLINICIANS_OWN),
    # the PIN guards it, and the page itself shows nothing of anybody
    "practice:enter": ("get", EVERYBODY),
    "practice:today": ("get", (AWAY, IN, IN, NOT_THERE, NOT_THERE)),
    "practice:tone": ("get", CLIENTS_OWN),
    "practice:simulated_voice": ("get", CLIENTS_OWN),
    "practice:recording": ("post", CLIENTS_OWN),
    "practice:by_hand": ("post", CLIENTS_OWN),
}
PATTERN = "start=C3&step_st=1&rounds_down=0&rounds_up=1&beat_s=0.3&breath=one_breath&transpose=0"
ACTORS = ("nobody", "the client", "another client", "a clinician elsewhere", "the clinician")


def named_urls(resolver=None, space=""):
    for entry in (resolver or get_resolver()).url_patterns:
        if isinstance(entry, URLResolver):
            yield from named_urls(entry, f"{entry.namespace}:" if entry.namespace else space)
        else:
            yield f"{space}{entry.name}"


SHEETS = ("baseline", "close_baseline", "calibrate", "spirometer")
VERSIONED = ("version", "handout", "handout_pdf", "calendar", "tones_midi", "sound_wav", "as_json")
STEPS = ("baseline_typed", "baseline_entries", "baseline_recording", "baseline_simulated")


def arguments(name, person, task):
    space, short = name.split(":")
    if space == "clients" and short.startswith(("baseline", *SHEETS)) and short != "baselines":
        trial = baseline_trial(person, by=task.programme.published_by)
        if short == "baseline_trial":
            return [trial.pk, "discard"]
        return [trial.baseline_id, "vowel"] if short in STEPS else [trial.baseline_id]
    if short in VERSIONED:
        by = task.programme.published_by
        made = Programme.objects.filter(client=person, version=2).first() or publish_document(
            person, simple_document(), by=by
        )
        return [person.pk, made.version, *([1] if short == "sound_wav" else [])]
    if name == "catalogue:hide":
        return ["straw_hold"]
    if short == "remove_reference":
        return [ReferenceFigure.objects.create(clinic=person.clinic, measure="span_st", low=1).pk]
    if name == "practice:enter":
        return [person.practice_code]
    if name.startswith("practice:") and name != "practice:today":
        return [task.pk]
    if space in ("accounts", "practice", "calculators", "catalogue") or short == "schema":
        return []
    if short in ("list", "new", "clinic", "add_reference"):
        return []
    return [person.pk]


@pytest.fixture
def users(person, clinic, clinician):
    return {
        "nobody": None,
        "the client": person.account,
        "another client": ClientFactory(clinic=clinic).account,
        "a clinician elsewhere": ClinicianFactory(),
        "the clinician": clinician,
    }


def signed_in(user):
    browser = Browser()
    if user:
        browser.force_login(user, "django.contrib.auth.backends.ModelBackend")
    return browser


def test_every_url_has_a_row_in_the_table():
    assert set(named_urls()) == set(ACCESS)


@pytest.mark.parametrize("name", ACCESS)
def test_who_gets_in(name, users, person, task):
    method, expected = ACCESS[name]
    url = reverse(name, args=arguments(name, person, task))
    if name == "practice:simulated_voice":
        url += "?manner=even&seed=1"
    if name.startswith("calculators:pattern"):
        url += f"?{PATTERN}"
    body = {"key": str(uuid.uuid4()), "seconds": "3"} if method == "post" else {}
    found = {}
    for actor in ACTORS:
        response = getattr(signed_in(users[actor]), method)(url, body)
        assert response.status_code < 500
        if response.status_code == 404:
            found[actor] = NOT_THERE
        elif response.status_code == 302 and response.url.startswith("/sign-in/?next="):
            found[actor] = AWAY
        else:
            found[actor] = IN
    assert found == dict(zip(ACTORS, expected, strict=True))


@pytest.mark.django_db(transaction=True)
@pytest.mark.parametrize("who", ["the client", "the clinician"])
def test_who_may_stream_sound(users, person, task, who):
    assert len(websocket_urlpatterns) == len(sheet_lines) == 1
    sheet = baseline_trial(person, by=task.programme.published_by).baseline
    path = {
        "the client": f"/practice/tasks/{task.pk}/take/",
        "the clinician": f"/clients/baselines/{sheet.pk}/vowel/take/",
    }[who]

    async def close_code(user):
        headers = [(b"origin", b"http://testserver"), (b"host", b"testserver")]
        if user:
            cookie = signed_in_cookie[user.pk]
            headers.append((b"cookie", f"sessionid={cookie}".encode()))
        line = WebsocketCommunicator(application, path, headers)
        await line.connect()
        nothing = await line.receive_nothing(timeout=0.2)
        code = None if nothing else (await line.receive_output())["code"]
        await line.disconnect()
        return code

    signed_in_cookie = {
        user.pk: signed_in(user).cookies["sessionid"].value for user in users.values() if user
    }
    found = {actor: run(lambda actor=actor: close_code(users[actor])) for actor in ACTORS}
    assert found == {actor: None if actor == who else NOT_YOURS for actor in ACTORS}


def test_a_page_elsewhere_cannot_stream_in_a_clients_name(person, task, db):
    async def connected():
        headers = [(b"origin", b"https://elsewhere.example"), (b"host", b"testserver")]
        line = WebsocketCommunicator(application, f"/practice/tasks/{task.pk}/take/", headers)
        accepted, _ = await line.connect()
        return accepted

    assert not run(connected)


def test_an_archived_client_cannot_practise(person, task, as_client):
    from django.utils import timezone

    person.archived_at = timezone.now()
    person.save()
    assert as_client.get(reverse("practice:today")).status_code == 404
    assert as_client.get(reverse("practice:tone", args=[task.pk])).status_code == 404
    assert Browser().get(reverse("practice:enter", args=[person.practice_code])).status_code == 404


def test_the_list_shows_only_the_clinicians_own_clinic(as_clinician, person):
    stranger = ClientFactory(name="Somebody Elsewhere")
    page = as_clinician.get(reverse("clients:list")).content.decode()
    assert person.name in page
    assert stranger.name not in page


def test_one_client_cannot_send_a_try_under_anothers_key(as_client, task, clinic, clinician):
    other = ClientFactory(clinic=clinic)
    other_task = prescribe(other, by=clinician)
    key = str(uuid.uuid4())
    theirs = signed_in(other.account)
    sent = {"key": key, "seconds": "4"}
    assert theirs.post(reverse("practice:by_hand", args=[other_task.pk]), sent).status_code == 200
    refused = as_client.post(reverse("practice:by_hand", args=[task.pk]), sent)
    assert refused.status_code == 422
    assert task.trials.count() == 0
    assert other_task.trials.count() == 1
