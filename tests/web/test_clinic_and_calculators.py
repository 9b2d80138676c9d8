"""The clinic's settings, its reference table, and the calculators."""

from io import BytesIO

import pytest
from django.urls import reverse
from mido import MidiFile

from reedcore.formats.wav import read_wav
from tests.factories import ClinicianFactory, baseline
from web.accounts.models import User
from web.baseline.models import ReferenceFigure


def tool(as_clinician, code, **typed):
    return as_clinician.get(reverse("calculators:all"), {"tool": code, "part": "1", **typed})


ANSWERS = {
    "a note": ("note", {"pitch": "A4", "target": "G4"}, ["440.0 Hz is A4", "+200 cents"]),
    "a flat pitch": ("note", {"pitch": "430"}, ["A4 −40 cents"]),
    "a goal": (
        "goal",
        {"volume_ml": "2400", "source": "vital_capacity", "best_s": "10"},
        ["Goal 30.0 s; first stage 24.0 s", "overestimate", "Today 10 s"],
    ),
    "a ratio": ("ratio", {"s": "21", "z": "14"}, ["s/z 1.50", "laryngeal examination"]),
    "a distance": ("distance", {"level": "70", "here_cm": "30", "there_cm": "60"}, ["64.0 dB SPL at 60 cm"]),
    "a straw": ("straw", {"diameter_mm": "3", "length_cm": "20", "depth_cm": "0"}, ["about 10 cmH₂O, rough"]),
    "a breath": (
        "breath",
        {"breath_in": "10", "held": "0", "breath_out": "10", "rest": "0", "tempo_bpm": "60", "cycles": "7"},
        ["3.0 breaths a minute", "Under 4 breaths a minute for more than 2 minutes: check that this is intended."],
    ),
}  # fmt: skip


@pytest.mark.parametrize(("code", "typed", "words"), ANSWERS.values(), ids=ANSWERS.keys())
def test_each_calculator_answers(as_clinician, code, typed, words):
    page = tool(as_clinician, code, **typed).json()["stage"]
    for word in words:
        assert word in page


WRONG = {
    "no note": ("note", {"pitch": "H"}, "is not a note"),
    "no air": ("goal", {"volume_ml": "12", "source": "vital_capacity"}, "not possible"),
    "a wide straw": ("straw", {"diameter_mm": "90", "length_cm": "20", "depth_cm": "0"}, "less than or equal to 30"),
    "a pattern over the ceiling": (
        "pattern",
        {"start": "C4", "step_st": "1", "rounds_down": "0", "rounds_up": "0", "ceiling": "D4",
         "beat_s": "0.5", "breath": "catch", "transpose": "0"},
        "start note cannot be",
    ),
    "hostile": ("note", {"pitch": "<script>"}, "&lt;script&gt;"),
}  # fmt: skip


@pytest.mark.parametrize(("code", "typed", "says"), WRONG.values(), ids=WRONG.keys())
def test_an_impossible_value_is_reported_beside_its_field(as_clinician, code, typed, says):
    page = tool(as_clinician, code, **typed).json()["stage"]
    assert says in page


def test_the_page_opens_with_every_calculator_answered(as_clinician, person, clinician):
    person.props = ["straw_3mm", "tube"]
    person.save()
    baseline(
        person, by=clinician, entries={"comfortable_low_hz": 110.0, "comfortable_high_hz": 220.0}
    )
    page = as_clinician.get(reverse("calculators:all"), {"client": person.pk}).content.decode()
    assert page.count('class="text-xl"') == 7
    assert "Tamsin Orrell’s equipment" in page
    assert "inside" in page
    assert page.index("the tube, 2 cm deep") < page.index("straw, 3 mm")


def test_an_unknown_calculator_is_not_there(as_clinician):
    assert tool(as_clinician, "horoscope").status_code == 404


PATTERN = {
    "start": "C3", "step_st": "1", "rounds_down": "1", "rounds_up": "0", "floor": "", "ceiling": "",
    "bridge": "", "beat_s": "0.5", "breath": "one_breath", "transpose": "2",
}  # fmt: skip


def test_a_pattern_is_saved_as_midi_transposed(as_clinician):
    data = as_clinician.get(reverse("calculators:pattern_midi"), PATTERN).content
    notes = [m.note for m in MidiFile(file=BytesIO(data)) if m.type == "note_on"]
    assert len(notes) == 50
    assert notes[0] == 50  # D3
    assert notes[25] == 49


def test_a_pattern_is_heard(as_clinician):
    wav = read_wav(as_clinician.get(reverse("calculators:pattern_wav"), PATTERN).content)
    assert wav.samples.shape[0] / wav.rate_hz == pytest.approx(62 * 0.5, abs=0.6)


def test_a_change_of_settings_is_recorded_with_the_old_value(as_clinician, clinic):
    as_clinician.post(reverse("clinic:clinic"), settings_of(clinic, emergency_number="999"))
    page = as_clinician.get(reverse("clinic:clinic")).content.decode()
    assert "emergency number:</span> 112 → 999" in page


def settings_of(clinic, **changes):
    return {
        "name": clinic.name, "time_zone": "Europe/Lisbon", "a4_hz": "440", "emergency_number": "112",
        "unexamined_limit_days": "21", "questionnaire": "", "mail_label": "initials", "address": "", "deputy": "",
        "idle_minutes": "30", "log_kept_days": "1095", "erased_after_days": "14",
        "device_remembered_days": "14", **changes,
    }  # fmt: skip


def test_a_changed_account_keeps_its_place_in_the_lists(as_clinician, clinic):
    people = [
        ClinicianFactory(clinic=clinic, last_name=name) for name in ("Adair", "Brook", "Cole")
    ]
    User.objects.filter(pk=people[0].pk).update(email="adair@x.example")
    page = as_clinician.get(reverse("clinic:clinic")).content.decode()
    places = [page.index(each.get_full_name()) for each in people]
    assert places == sorted(places)


def test_the_clinic_sets_its_own_limit(as_clinician, clinic):
    as_clinician.post(reverse("clinic:clinic"), settings_of(clinic))
    clinic.refresh_from_db()
    assert clinic.unexamined_limit_days == 21
    page = as_clinician.post(
        reverse("clinic:clinic"),
        settings_of(clinic, unexamined_limit_days="90", time_zone="Mars/Base"),
    ).content.decode()
    assert "less than or equal to 28" in page
    assert "is not a time zone" in page


def test_the_reference_table_takes_one_row_a_group(as_clinician, clinic):
    row = {
        "measure": "longest_vowel_s",
        "age_band": "75+",
        "voice": "",
        "low": "8",
        "high": "",
        "source": "ours",
    }
    add = reverse("clinic:add_reference")
    as_clinician.post(add, row)
    assert "exists" in as_clinician.post(add, row).content.decode()
    assert (
        "is above" in as_clinician.post(add, {**row, "voice": "bass", "high": "5"}).content.decode()
    )
    assert (
        "Enter at least one limit."
        in as_clinician.post(add, {**row, "voice": "bass", "low": ""}).content.decode()
    )
    kept = ReferenceFigure.objects.get()
    as_clinician.post(reverse("clinic:remove_reference", args=[kept.pk]))
    assert not ReferenceFigure.objects.exists()
