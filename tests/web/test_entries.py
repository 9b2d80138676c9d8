"""Entries of a device: each is stored once with its true time, or rejected with a sentence."""

import json
import uuid
from datetime import timedelta

import pytest
from django.core import mail
from django.urls import reverse
from django.utils import timezone

from reedcore.synthvoice import Hiss, Room, Silence, Talk, VoicedPart, render
from tests.factories import ClinicianFactory, item, publish_anyway, simple_document
from tests.jobs import run_jobs
from tests.pages import read
from tests.web.conftest import entry, plan_shown, send, sitting
from tests.web.test_recordings import wav
from web.programmes.actions import publish_programme
from web.record.models import PrescribedTask, ReferenceVowel, SelfReport, Session, Trial
from web.screening.models import Stop


def sound(*parts, rate=16_000):
    clip = render((Silence(0.5), *parts, Silence(0.8)), room=Room(-68.0), rate_hz=rate)
    return wav(clip.samples, rate)


def task_of(programme, code):
    return programme.tasks.get(task_code=code)


def practise(as_client, programme, code, recording, session=None, **more):
    person, task = programme.client, task_of(programme, code)
    said = entry(person, "sound", session, task=task.pk, source="simulated", **more)
    response = send(as_client, said, recording=recording)
    assert response.status_code == 200, response.content
    return Trial.objects.get(pk=said["key"]), response.json()


def test_a_hiss_is_measured_in_seconds(as_client, programme):
    trial, answer = practise(as_client, programme, "steady_hiss", sound(Hiss(10.6)))
    assert trial.total_s == pytest.approx(10.6, abs=0.15)
    assert trial.outcome == Trial.Outcome.MET
    assert answer["sentence"] == "10.6 seconds; target 10 s."


def test_a_siren_says_how_often_it_went_round(as_client, as_clinician, person, clinician):
    made = publish_anyway(person, simple_document(item("sirens")), by=clinician)
    round_and_round = tuple((1.5 * at, 150.0 * (1 + at % 2)) for at in range(5))
    siren = sound(VoicedPart(6.0, round_and_round))
    trial, answer = practise(as_client, made, "sirens", siren)
    assert "2 times up and down" in answer["sentence"]
    url = reverse("results:client", args=[person.pk])
    page = as_clinician.get(url, {"try": trial.pk}).content.decode()
    assert "times up and down" in page
    assert "vibrations" in page


def test_s_to_z_has_its_gap(as_client, programme):
    joined = sound(Hiss(3.0), VoicedPart(3.0, 150.0, vowel="ee"))
    trial, _ = practise(as_client, programme, "s_to_z", joined)
    assert trial.outcome == Trial.Outcome.MET
    assert trial.figures["z_hz"] == pytest.approx(150.0, rel=0.01)
    assert trial.figures["z_onset_ms"] > 0
    apart = sound(Hiss(3.0), Silence(0.5), VoicedPart(3.0, 150.0, vowel="ee"))
    trial, answer = practise(as_client, programme, "s_to_z", apart)
    assert trial.figures["gap_s"] == pytest.approx(0.5, abs=0.1)
    assert trial.outcome == Trial.Outcome.NOT_MET
    assert "a gap of" in answer["sentence"]


def test_a_glide_is_measured_in_semitones(as_client, programme):
    up = sound(VoicedPart(4.0, ((0.0, 130.8), (4.0, 261.6))))
    trial, answer = practise(as_client, programme, "block_stretch", up)
    assert trial.figures["semitones"] == pytest.approx(12.0, abs=0.5)
    assert trial.outcome == Trial.Outcome.MET
    assert answer["sentence"].startswith("12 semitones")


def test_a_pattern_is_followed_note_by_note(as_client, programme):
    steps = (0, 2, 4, 5, 7, 5, 4, 2, 0)
    course, at = [], 0.0
    for place, st in enumerate(steps):
        flat = -0.7 if place == 4 else 0.0
        hz = 130.813 * 2 ** ((st + flat) / 12)
        course += [(at, hz), (at + 0.42, hz)]
        at += 0.5
    trial, answer = practise(
        as_client, programme, "five_note", sound(VoicedPart(at, tuple(course)))
    )
    assert answer["sentence"] == "8 of 9 notes on pitch."
    assert trial.share_on_pitch == pytest.approx(8 / 9, abs=0.01)
    assert trial.outcome == Trial.Outcome.MET


def test_lines_are_measured_as_speech(as_client, programme):
    trial, answer = practise(as_client, programme, "functional_phrases", sound(Talk(3.0)))
    assert trial.figures["voiced_s"] > 0.5
    assert "seconds of voice" in answer["sentence"]


def test_a_reported_result_is_stored_as_reported(as_client, person, programme):
    said = entry(person, "told", task=task_of(programme, "lips_stretch").pk, figures={"reps": 8})
    assert send(as_client, said).json()["sentence"] == "Done: 8 times."
    trial = Trial.objects.get()
    assert trial.source == Trial.Source.TOLD
    assert trial.total_s is None


def vowel(as_client, person, session, level_dbfs, **capture):
    said = entry(
        person,
        "reference",
        session,
        source="simulated",
        capture={"device": "tablet", "browser": "b", **capture},
    )
    made = sound(VoicedPart(2.5, 180.0, level_dbfs=level_dbfs))
    return send(as_client, said, recording=made).json()


def test_level_is_judged_against_the_comfortable_voice_on_this_device_only(
    as_client, person, programme
):
    session = sitting(person)
    here = {"device": "tablet", "browser": "b"}
    strong = sound(VoicedPart(5.6, 180.0, level_dbfs=-14.0))
    before, _ = practise(as_client, programme, "strong_ah", strong, session, capture=here)
    assert before.outcome == Trial.Outcome.NOT_JUDGED
    assert before.level_db is None
    assert [vowel(as_client, person, session, -26.0)["more"] for _ in range(3)] == [2, 1, 0]
    trial, answer = practise(as_client, programme, "strong_ah", strong, session, capture=here)
    assert trial.level_db == pytest.approx(12.0, abs=1.0)
    assert trial.outcome == Trial.Outcome.MET
    assert "level in range" in answer["sentence"]
    soft = sound(VoicedPart(5.6, 180.0, level_dbfs=-25.0))
    trial, answer = practise(as_client, programme, "strong_ah", soft, session, capture=here)
    assert trial.outcome == Trial.Outcome.NOT_MET
    assert "softer than asked" in answer["sentence"]
    elsewhere, _ = practise(
        as_client,
        programme,
        "strong_ah",
        strong,
        session,
        capture={"device": "telephone", "browser": "b"},
    )
    assert elsewhere.level_db is None


def test_a_strong_hold_that_trails_off_is_not_met_whatever_else_is_not_judged(as_client, programme):
    falling = sound(VoicedPart(5.6, 180.0, level_dbfs=-14.0, fall_db=14.0))
    trial, answer = practise(as_client, programme, "strong_ah", falling)
    assert trial.outcome == Trial.Outcome.NOT_MET  # Its level cannot be judged on this device yet.
    assert "trailing off at the end" in answer["sentence"]
    assert trial.figures["end_fall_db"] > 3.0
    even = sound(VoicedPart(5.6, 180.0, level_dbfs=-14.0))
    trial, _ = practise(as_client, programme, "strong_ah", even)
    assert {part["part"]: part["verdict"] for part in trial.parts}["end_fall"] == "met"


def test_a_swell_is_judged_as_a_swell(as_client, person, clinician):
    document = simple_document(item("swell_fade", notes=[53], params={"seconds": 4}))
    programme = publish_anyway(person, document, by=clinician)
    even, answer = practise(as_client, programme, "swell_fade", sound(VoicedPart(5.0, 174.6)))
    assert even.outcome == Trial.Outcome.NOT_MET
    assert "without the swell or the fade" in answer["sentence"]
    assert even.figures["rise_db"] < 3.0


def test_a_glide_under_its_floor_is_not_met(as_client, person, clinician):
    document = simple_document(item("strong_glides", notes=[48, 60], floor=6.0, ceiling=16.0))
    programme = publish_anyway(person, document, by=clinician)
    session, here = sitting(person), {"device": "tablet", "browser": "b"}
    for _ in range(3):
        vowel(as_client, person, session, -26.0)
    both = ((0.0, 130.8), (2.0, 261.6), (4.0, 130.8))
    soft = sound(VoicedPart(4.0, both, level_dbfs=-35.0))
    trial, answer = practise(as_client, programme, "strong_glides", soft, session, capture=here)
    assert trial.outcome == Trial.Outcome.NOT_MET
    assert "softer than asked" in answer["sentence"]
    strong = sound(VoicedPart(4.0, both, level_dbfs=-16.0))
    trial, _ = practise(as_client, programme, "strong_glides", strong, session, capture=here)
    assert trial.outcome == Trial.Outcome.MET


def test_strong_work_without_a_level_has_a_floor_once_the_comfortable_voice_is_known(
    as_client, person, clinician
):
    document = simple_document(item("strong_ah", params={"seconds": 3}))
    programme = publish_anyway(person, document, by=clinician)
    session, here = sitting(person), {"device": "tablet", "browser": "b"}
    soft = sound(VoicedPart(4.0, 174.6, level_dbfs=-28.0))
    trial, _ = practise(as_client, programme, "strong_ah", soft, session, capture=here)
    assert trial.outcome == Trial.Outcome.MET  # No comfortable voice yet: the seconds alone count.
    for _ in range(3):
        vowel(as_client, person, session, -26.0)
    trial, answer = practise(as_client, programme, "strong_ah", soft, session, capture=here)
    assert trial.outcome == Trial.Outcome.NOT_MET
    assert "softer than asked" in answer["sentence"]
    strong = sound(VoicedPart(4.0, 174.6, level_dbfs=-21.0))
    trial, _ = practise(as_client, programme, "strong_ah", strong, session, capture=here)
    assert trial.outcome == Trial.Outcome.MET


def test_a_shifted_comfortable_voice_asks_about_the_distance(as_client, person, programme):
    session = sitting(person)
    for _ in range(3):
        vowel(as_client, person, session, -26.0)
    assert not vowel(as_client, person, session, -28.0)["asks"]
    far = vowel(as_client, person, session, -33.0)
    assert far["asks"]
    assert "30 centimetres" in far["sentence"]
    # Processed sound allows no statement about level.
    odd = vowel(as_client, person, session, -26.0, autoGainControl=True)
    assert "could not be judged" in odd["sentence"]
    assert ReferenceVowel.objects.filter(level_dbfs=None).count() == 1


def test_the_target_set_for_one_session_is_what_the_trial_is_judged_by(
    as_clinician, as_client, person, task
):
    said = entry(person, "timed", task=task.pk, seconds=4.2, set_s=4.0)
    url = reverse("intake:clinic_entries", args=[person.pk])
    answer = send(as_clinician, said, url=url).json()
    assert answer["sentence"] == "4.2 seconds, timed by hand; target 4 s."
    trial = Trial.objects.get()
    assert trial.session.place == Session.Place.CLINIC
    assert trial.session.led_by is not None
    assert {part["part"]: part["verdict"] for part in trial.parts}["seconds"] == "met"


def test_everything_three_times_is_there_once(as_client, person, task):
    session = sitting(person)
    sent = [
        entry(person, "begun", session),
        entry(person, "timed", session, task=task.pk, seconds=4.0),
        entry(person, "mark", session, mark="effort", value=3, task=task.pk),
        entry(person, "stop", session, flags=["strain"]),
        entry(person, "ended", session, ending="done", done=1),
    ]
    for _ in range(3):
        for said in sent:
            assert send(as_client, said).status_code == 200
    counts = [model.objects.count() for model in (Session, Trial, SelfReport, Stop)]
    assert counts == [1, 1, 1, 1]
    assert Session.objects.get().ending == Session.Ending.DONE


def test_a_clock_that_is_a_day_off_is_set_right(as_client, person, task):
    now = timezone.now()
    wrong = timedelta(days=1, minutes=3)
    session = sitting(person, begun_at=(now - wrong - timedelta(minutes=10)).isoformat())
    said = entry(person, "timed", session, task=task.pk, seconds=4.0)
    said["at"] = (now - wrong - timedelta(minutes=5)).isoformat()
    assert send(as_client, said, sent_at=(now - wrong).isoformat()).status_code == 200
    trial = Trial.objects.get()
    assert abs(trial.performed_at - (now - timedelta(minutes=5))) < timedelta(seconds=5)
    assert trial.session.clock_off_s == pytest.approx(wrong.total_seconds(), abs=5)


HOSTILE = {
    "no JSON": "{",
    "a list": "[]",
    "no kind": '{"key": "x"}',
    "NaN": '{"kind": "timed", "seconds": NaN}',
    "a kind that is a list": '{"kind": ["begun"]}',
}


@pytest.mark.parametrize("body", HOSTILE.values(), ids=HOSTILE)
def test_an_invalid_entry_is_refused_with_a_sentence(as_client, task, body):
    response = send(as_client, body)
    assert response.status_code == 422
    assert response.json()["sentence"]


@pytest.mark.parametrize(
    "change",
    [
        {"mark": "effort", "value": 11},
        {"mark": "effort", "value": "3"},
        {"mark": "strain", "value": {"said": True, "where": "<script>"}},
        {"mark": "comment", "value": "\x00"},
        {"mark": "felt", "value": {"deep": []}},
        {"mark": "nothing", "value": 1},
        {"mark": "effort", "value": 3, "at": "yesterday"},
        {"mark": "effort", "value": 3, "at": "2026-11-25T10:00:00"},
        {"mark": "effort", "value": 3, "extra": 1},
        {"mark": "effort", "value": 3, "key": "not a key"},
    ],
    ids=str,
)
def test_a_mark_that_says_what_it_cannot_is_refused(as_client, person, task, change):
    said = entry(person, "mark", **{"mark": "effort", "value": 3, **change})
    assert send(as_client, said).status_code == 422
    assert not SelfReport.objects.exists()


def test_a_version_that_is_not_theirs_is_refused(as_client, person, task):
    assert send(as_client, entry(person, "begun", sitting(person, version=99))).status_code == 422


def test_an_old_version_still_takes_what_was_done_under_it(as_client, person, clinician, task):
    session = sitting(person)
    publish_programme(person, by=clinician, task=PrescribedTask(sound="ah", target_s=6.0, tries=3))
    said = entry(person, "timed", session, task=task.pk, seconds=4.0)
    assert send(as_client, said).status_code == 200
    assert Trial.objects.get().session.programme == task.programme


@pytest.fixture
def reachable(clinician, clinic):
    """A clinician and a deputy with email addresses."""
    clinician.email = "imre@saltmarsh.example"
    clinician.save()
    clinic.deputy = ClinicianFactory(clinic=clinic, email="odalys@saltmarsh.example")
    clinic.save()


@pytest.mark.django_db(transaction=True)
def test_a_stop_pauses_the_programme_and_is_mailed_once(
    as_client, as_clinician, person, task, reachable, clock
):
    said = entry(person, "stop", flags=["new_pain"])
    for _ in range(2):
        assert send(as_client, said).status_code == 200
    assert run_jobs() == []  # An accidental press can still be undone.
    clock(timezone.now() + timedelta(seconds=31))
    assert run_jobs() == ["tell_of_stops"]
    (letter,) = mail.outbox
    assert letter.to == ["imre@saltmarsh.example", "odalys@saltmarsh.example"]
    assert "Still Reed needs your attention: T.O." in letter.subject
    assert f"/clients/{person.pk}/screen/" in letter.body
    assert not {"Tamsin", "Orrell", "pain"} & set(f"{letter.subject} {letter.body}".split())
    assert plan_shown(as_client)["paused"]
    screen = reverse("screening:screen", args=[person.pk])
    assert "The programme is paused until a clinician resolves this stop." in read(
        as_clinician.get(screen)
    )
    # Nothing can be prescribed meanwhile.
    compose = read(as_clinician.get(reverse("programmes:compose", args=[person.pk])))
    assert "A red flag is open" in compose
    clear = reverse("screening:clear_stop", args=[person.pk, Stop.objects.get().pk])
    as_clinician.post(clear, {"because": "no"})
    assert plan_shown(as_client)["paused"]
    as_clinician.post(clear, {"because": "Seen today: a bitten tongue, nothing else."})
    assert not plan_shown(as_client)["paused"]
    stop = Stop.objects.get()
    assert stop.cleared_because.startswith("Seen today")


@pytest.mark.django_db(transaction=True)
def test_strain_ends_a_session_and_pauses_nothing(as_client, person, task, reachable):
    send(as_client, entry(person, "stop", flags=["strain"]))
    assert not plan_shown(as_client)["paused"]
    assert run_jobs() == []
    assert mail.outbox == []


@pytest.mark.django_db(transaction=True)
def test_light_headed_a_second_time_pauses(as_client, person, task, reachable, clock):
    send(as_client, entry(person, "stop", flags=["light_headed"]))
    assert not plan_shown(as_client)["flags"]["strain"]["pauses"]
    assert plan_shown(as_client)["flags"]["light_headed"]["pauses"]
    send(as_client, entry(person, "stop", flags=["light_headed"]))
    assert plan_shown(as_client)["paused"]
    clock(timezone.now() + timedelta(seconds=31))
    run_jobs()
    assert len(mail.outbox) == 1


def test_the_sheet_of_a_trial_never_holds_anothers_words(as_client, person, task):
    said = json.loads(json.dumps(entry(person, "mark", mark="comment", value="It went well.")))
    said["key"] = str(uuid.uuid4())
    assert send(as_client, said).status_code == 200
    assert SelfReport.objects.get().value == "It went well."
