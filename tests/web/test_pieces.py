"""Parts of real sessions: composed with the composer's edits, prescribed, practised with the
simulated voice as the device leads it, and judged."""

import json

import pytest

from tests.sizes import every, short
from tests.web.conftest import entry, plan_shown, send, sitting
from tests.web.test_composer import send as edit
from tests.web.test_composer import type_edit
from tests.web.test_recordings import wav
from web.practice.simulated import simulated_clip
from web.programmes.actions import OpenStops, publish_document
from web.programmes.queries import draft_document
from web.record.models import PrescribedTask, Trial
from web.record.prescribed_item import PrescribedRow

RATE = 16_000
MET, NOT_MET, TOLD = "met", "not_met", "told"
#: Description: (task, [(field, typed value)], the resulting item).
PIECES = {
    "a straw, one note, three times": ("straw_hold", [("notes", "D3")], MET),
    "a row of five notes on a hum": ("held_row_on_hum", [("param:seconds", "3")], MET),
    "a trill in bouts of fifteen seconds": ("bout_on_lip_trill", [("param:reps", "1")], MET),
    "glide up on a tongue trill": ("glide_up_on_tongue_trill", [], MET),
    "glide down on “v”": ("glide_down_on_v", [], MET),
    "three hills through the straw": ("straw_hills", [], MET),
    "circles that grow, half a minute": ("straw_circles", [("param:minutes", "0.6")], MET),
    "a siren, as wide as a fifth": ("lip_trill_glide", [("rung", "1")], MET),
    "a siren of eight semitones": ("sirens", [("rung", "2")], MET),
    "a five-note scale on a hum": ("five_note", [("notes", "C3")], MET),
    "an octave arpeggio in water": ("arpeggio_on_straw_water", [("notes", "A2"), ("param:rounds_up", "0")], MET),
    "five-five-nine": ("five_five_nine", [("notes", "A2")], MET),
    "the growing pattern, two rounds down and two up": ("growing_on_oo_buzz", [("notes", "C3"), ("pattern:groups", "1 / 121 / 12321")], MET),
    "its own degrees, a tone a round, stopped by a ceiling": ("scale_on_ng", [("notes", "C3"), ("pattern:groups", "1 3 5 3 1"), ("param:step_st", "2"), ("pattern:ceiling", "B3")], MET),
    "over the bridge, and said so": ("scale_on_ah", [("notes", "C3"), ("pattern:bridge", "F3"), ("choice:at_bridge", "say so and go on")], MET),
    "a catch-breath in every gap": ("growing_on_hum", [("notes", "C3"), ("choice:between_groups", "a catch-breath in every gap"), ("pattern:groups", "1 / 121")], MET),
    # The synthetic client holds it evenly.
    "a swell and a fade": ("swell_fade", [("notes", "D3")], NOT_MET),
    "bubbles at four centimetres": ("straw_water", [("param:depth_cm", "4"), ("choice:bubbles", "vigorous")], MET),
    "air first, no voice yet": ("air_first", [("rung", "0"), ("param:seconds", "3")], MET),
    "air first, then voice": ("air_first", [], MET),
    "warm-up: mee": ("block_warm_up", [("param:seconds", "5")], MET),
    "stretch": ("block_stretch", [], MET),
    "contract": ("block_contract", [], MET),
    "power on five notes": ("block_power", [("param:seconds", "4")], MET),
    "a steady hiss, rising": ("steady_hiss", [("row", "4 5 6")], MET),
    "four “sh” and all that is left": ("sh_four", [], MET),
    "pulses": ("pulses", [], MET),
    "“s” into “z”": ("s_to_z", [], MET),
    "on the beat": ("breath_on_seven", [("param:reps", "2")], MET),
    "a strong “ah”, with its cues": ("strong_ah", [("param:seconds", "4"), ("cues", True)], MET),
    "up, a breath, down": ("strong_glides", [("param:reps", "1")], MET),
    "counting to sixteen and back": ("count_sixteen", [], MET),
    "own phrases, said twice, then the whole": ("functional_phrases", [("lines", "One.\nTwo."), ("choice:said", "twice, then the whole")], MET),
    "a stretched word": ("stretched_words", [("param:lines", "2")], MET),
    "lines through the straw": ("lines_on_straw", [("param:lines", "2")], MET),
    "occluded, then plain": ("occluded_plain", [("param:lines", "1")], MET),
    "in 4, out 4, then 8, then 12": ("counts_growing", [], TOLD),
    "in 10, out 15, one last puff": ("ten_fifteen", [("param:cycles", "1")], TOLD),
    "slow counts, held between, lying": ("slow_counts", [("param:held", "2"), ("choice:posture", "lying with book")], TOLD),
    "a breath held, rising": ("quiet_hold", [("row", "5 7 9")], TOLD),
    "shoulder circles, the left side": ("shoulder_circles", [("choice:side", "left"), ("param:stretch_s", "20")], TOLD),
    "reading aloud from a set of one's own": ("read_aloud", [("fill", "work:long"), ("choice:stretched", "last word")], TOLD),
    "a reset": ("reset", [("words", "Hum twice.\nLet the jaw hang.")], TOLD),
    "habits": ("habits", [], TOLD),
    "a balloon": ("balloon", [], TOLD),
}  # fmt: skip


def compose(as_clinician, person, code, fields):
    """Compose one task with these field values, and prescribe it."""
    sent = [{"do": "add_item", "id": "piece", "task": code, "after": None}]
    sent += [type_edit("piece", name, said) for name, said in fields]
    assert edit(as_clinician, person, *sent).json()["not_made"] == []
    return end_published_draft(person)


def end_published_draft(person):
    """Publish the draft, with every stop overruled."""
    document = draft_document(person)
    by = person.baselines.first().begun_by
    try:
        return publish_document(person, document, by=by)
    except OpenStops as stops:
        overruled = {**document, "overrules": dict.fromkeys(stops.keys, "it is meant so")}
        return publish_document(person, overruled, by=by)


def practise(as_client, person, block):
    """Return every try of the first turn as the device leads it: (trial, its sentence)."""
    (turn, *_) = block["turns"]
    task = PrescribedTask.objects.get(pk=turn["task"])
    session = sitting(person)
    if not block["heard"]:
        figures = {
            "repetitions": {"reps": 3}, "nothing": {"minutes": 1.0}, "breaths": {"breaths": 3},
            "number": {"count": 4.0}, "items": {"ticks": ["so"]},
        }[block["told"]["leads"]]  # fmt: skip
        said = entry(person, "told", session, task=task.pk, figures=figures)
        assert send(as_client, said).status_code == 200
        return [Trial.objects.get(pk=said["key"])]
    made = []
    for at in range(min(turn["tries"], max(2, len(turn["rounds"])))):
        number = turn["rounds"][at % len(turn["rounds"])]["number"] if turn["rounds"] else None
        clip = simulated_clip(
            PrescribedRow(task), manner="even", seed=at, number=number, rate_hz=RATE
        )
        beat_s = (block["beat"] or {}).get("at_s")
        said = entry(
            person, "sound", session, task=task.pk, source="simulated", number=number, beat_s=beat_s
        )
        response = send(as_client, said, recording=wav(clip.samples, RATE))
        assert response.status_code == 200, response.content
        made.append(Trial.objects.get(pk=said["key"]))
    return made


@pytest.mark.parametrize(
    ("code", "fields", "comes_out"), short(PIECES.values(), takes=every(3)), ids=PIECES
)
def test_a_piece_is_composed_practised_and_judged(
    as_clinician, as_client, bass, code, fields, comes_out
):
    programme = compose(as_clinician, bass, code, fields)
    (block,) = plan_shown(as_client)["blocks"]
    trials = practise(as_client, bass, block)
    outcomes = [trial.outcome for trial in trials]
    if comes_out in (MET, NOT_MET):
        assert outcomes == [comes_out] * len(outcomes), [
            (t.outcome, t.parts, t.figures) for t in trials
        ]
    else:
        assert not block["heard"]
        assert all(trial.source == "told" and trial.figures for trial in trials)
    assert programme.document["items"][0]["task"] == code


def test_there_are_enough_pieces():
    assert len(PIECES) >= 40


def test_a_round_is_judged_by_its_own_notes(as_clinician, as_client, bass):
    compose(as_clinician, bass, "scale_on_ng", [("notes", "C3")])
    (block,) = plan_shown(as_client)["blocks"]
    (turn,) = block["turns"]
    assert [each["starts_on"] for each in turn["rounds"]] == ["C3", "C♯3", "D3"]
    assert [each["left"] for each in turn["rounds"]] == [2, 1, 0]
    task = PrescribedTask.objects.get(pk=turn["task"])
    clip = simulated_clip(PrescribedRow(task), manner="even", seed=1, number=1, rate_hz=RATE)
    for number, outcome in (
        (1, "met"),
        (3, "not_met"),
    ):  # The notes of round one differ from those of round three.
        said = entry(bass, "sound", task=task.pk, source="simulated", number=number)
        send(as_client, said, recording=wav(clip.samples, RATE))
        trial = Trial.objects.get(pk=said["key"])
        assert (trial.outcome, trial.figures["round"]) == (outcome, number)


@pytest.mark.parametrize(
    ("beat_s", "outcome", "why"),
    [(0.5 + 8 * 0.75, "met", "on_beat"), (0.5 + 7 * 0.75, "not_met", "late"), (0.5 + 9 * 0.75, "not_met", "early"), (None, "not_judged", "no_beat")],
    ids=["on it", "late", "early", "the device did not say"],
)  # fmt: skip
def test_a_start_is_held_against_the_beat_that_the_device_sounded(
    as_clinician, as_client, bass, beat_s, outcome, why
):
    compose(as_clinician, bass, "breath_on_seven", [("param:tempo", "80")])
    (block,) = plan_shown(as_client)["blocks"]
    assert block["beat"]["at_s"] == pytest.approx(0.5 + 8 * 0.75)
    task = PrescribedTask.objects.get(pk=block["turns"][0]["task"])
    clip = simulated_clip(PrescribedRow(task), manner="even", seed=1, rate_hz=RATE)
    said = entry(bass, "sound", task=task.pk, source="simulated", beat_s=beat_s)
    send(as_client, said, recording=wav(clip.samples, RATE))
    trial = Trial.objects.get(pk=said["key"])
    assert trial.outcome == outcome
    assert trial.parts[0]["why"] == why


def test_the_clients_instruction_is_in_the_clinicians_words(as_clinician, as_client, bass):
    fields = [("words", "Think of a yawn.\nSoft."), ("words_replace", True), ("say_before", "shoulders down"), ("choice:breath_in_by", "nose"), ("param:pause_s", "1")]  # fmt: skip
    programme = compose(as_clinician, bass, "straw_hold", fields)
    (block,) = plan_shown(as_client)["blocks"]
    assert block["lines"] == ["Think of a yawn.", "Soft.", "Breathe in through the nose."]
    assert (block["say_before"], block["breath_words"], block["pause_s"]) == (
        "shoulders down", "Breathe in through the nose", 1.0,
    )  # fmt: skip
    paper = as_clinician.get(f"/clients/{bass.pk}/programmes/{programme.version}/handout/")
    told = paper.content.decode()
    assert "Think of a yawn." in told
    assert "Before each: shoulders down" in told


def test_a_facilitator_that_is_faded_is_not_in_the_words(as_clinician, as_client, bass):
    compose(as_clinician, bass, "bright_call", [("rung", "2")])
    (block,) = plan_shown(as_client)["blocks"]
    assert not any("beep" in line.lower() for line in block["lines"])


def test_a_page_of_forty_tasks_is_small(as_clinician, as_client, bass):
    codes = ["growing_on_hum", "five_five_nine", "held_row_on_oh", "functional_phrases"]
    sent = [
        {"do": "add_item", "id": f"piece-{at}", "task": codes[at % len(codes)], "after": None}
        for at in range(40)
    ]
    assert edit(as_clinician, bass, *sent).json()["not_made"] == []
    document = draft_document(bass)
    by = bass.baselines.first().begun_by
    try:
        publish_document(bass, document, by=by)
    except OpenStops as stops:
        publish_document(bass, {**document, "overrules": dict.fromkeys(stops.keys, "so")}, by=by)
    page = as_client.get("/practice/")
    assert len(page.content) < 500_000
    assert len(json.dumps(plan_shown(as_client)["blocks"])) > 40 * 500
