"""Whole programmes: sixty harmful ones are reported, twenty usual ones are not."""

from dataclasses import dataclass, field
from datetime import date

import pytest

from reedcore.baseline import PitchRange
from reedcore.catalogue.tasks import shipped_tasks, task_from
from reedcore.checks import Person, Severity, check_all
from reedcore.pitch.note_sets import BASS
from reedcore.programme.document import clean_document
from reedcore.programme.document_values import programme_from
from reedcore.programme.loads import loads_of
from reedcore.programme.plan import plans_of
from reedcore.safety import Caution, forbidden_hazards
from tests.documents import empty_document, new_item

DAY = date(2026, 11, 9)
OWN_SHOUT = task_from(
    {
        "code": "own_hail",
        "name": "Hail the ferry",
        "purpose": "To be heard on deck.",
        "client": ["Hail the ferry."],
        "measure": "script",
        "effort": 9,
        "parameters": {"lines": {"unit": "lines", "default": 4, "from": 1, "to": 8}},
    },
    family="articulation",
    own=True,
)
TASKS = {**shipped_tasks(), OWN_SHOUT.code: OWN_SHOUT}
F3, E3, G3, C4, E4, A4 = 53, 52, 55, 60, 64, 69


def item_with(code, **more):
    """Return an item with its defaults and these changes; unknown names are settings."""
    fields = {
        "sets",
        "notes",
        "floor",
        "ceiling",
        "row",
        "strand",
        "meant",
        "sound",
        "cue",
        "pattern",
    }
    given = {name: value for name, value in more.items() if name in fields}
    item = new_item(TASKS[code], id=more.get("id", code.replace("_", "-")), short=True, **given)
    item["params"] |= {k: v for k, v in more.items() if k not in fields and k != "id"}
    return item


def programme(*items, **more):
    """Return a document of these items; ``dose`` changes the usual one."""
    document = empty_document(DAY) | {"items": list(items)}
    dose = more.pop("dose", {})
    return document | more | {"dose": document["dose"] | dose}


@dataclass(frozen=True)
class Who:
    """The client of a checked programme; nothing is on record unless given."""

    cautions: tuple = ()
    said_so: tuple = ()
    best: dict = field(default_factory=dict)
    comfortable: PitchRange | None = None
    person: dict = field(default_factory=dict)


def on_record(*cautions, **more):
    return Who(tuple(cautions), **more)


#: Measured and healthy: G2 to G4 held, A2 to D4 comfortable, 15 s of voice, 18 s of hiss.
MEASURED = {
    "best": {"hold": 15.0, "hiss": 18.0},
    "comfortable": PitchRange(110.0, 294.0),
    "person": {"held": PitchRange(98.0, 392.0)},
}


def found(document, who=None, *, week_ago=None):
    """Return the findings of the check, as in the product."""
    who = who or Who(**MEASURED)
    document, problems = clean_document(document, tasks=TASKS)
    assert problems == []
    known = {"best": who.best, "cautions": frozenset(who.cautions)}
    if week_ago:
        loads = loads_of(programme_from(clean_document(week_ago, tasks=TASKS)[0]), TASKS)
        known |= {"before_cmh2o": loads.cmh2o, "before_loud_s": loads.loud_s}
    plans = plans_of(programme_from(document), TASKS, **known)
    person = Person(
        cautions=frozenset(who.cautions),
        forbidden=forbidden_hazards(who.cautions, said_so=who.said_so, on=DAY),
        comfortable=who.comfortable,
        middle=BASS.power[2],
        **who.person,
    )
    return [each for _, each in check_all([(strand.id, plan) for strand, plan in plans], person)]


STRONG = item_with("strong_ah", floor=6, ceiling=16)
SURGERY = on_record(Caution.VOCAL_FOLD_SURGERY, **MEASURED)
SURGERY_UNMEASURED = on_record(Caution.VOCAL_FOLD_SURGERY)
LUNG = on_record(Caution.LUNG_DISEASE, best={"hold": 8.0, "hiss": 8.0})
CHILD = on_record(Caution.CHILD, **{**MEASURED, "person": {"has_adult_helper": True}})
EVENT = {"sort": "event"}
LOUD_AFTER = {"school": "loud"}

#: Description → the programme, its client, and the finding that must appear; a caution by its name.
DANGEROUS = {
    # Strong voice where pressure must not rise.
    "a strong vowel with an aneurysm": (programme(STRONG), on_record(Caution.PRESSURE_ACUTE), Caution.PRESSURE_ACUTE),
    "strong counting after a stroke": (programme(item_with("count_sixteen")), on_record(Caution.PRESSURE_ACUTE), Caution.PRESSURE_ACUTE),
    "loud reading with a hernia": (programme(item_with("read_aloud")), on_record(Caution.PRESSURE_ACUTE), Caution.PRESSURE_ACUTE),
    "a conversation across the room after eye surgery": (programme(item_with("conversation")), on_record(Caution.PRESSURE_ACUTE), Caution.PRESSURE_ACUTE),
    "a mission to call across a room": (programme(item_with("carry_over")), on_record(Caution.PRESSURE_ACUTE), Caution.PRESSURE_ACUTE),
    "a hum with a floor over comfortable": (programme(item_with("hum_hold", floor=6, ceiling=12)), on_record(Caution.PRESSURE_ACUTE), Caution.PRESSURE_ACUTE),
    "an own task at an effort of nine": (programme(item_with("own_hail")), on_record(Caution.PRESSURE_ACUTE), Caution.PRESSURE_ACUTE),
    "a strong vowel with high blood pressure that nobody allowed": (programme(STRONG), on_record(Caution.PRESSURE), Caution.PRESSURE),
    "strong phrases in pregnancy": (programme(item_with("functional_phrases")), on_record(Caution.PREGNANCY), Caution.PREGNANCY),
    "vigorous bubbles with a pneumothorax": (programme(item_with("straw_water", bubbles="vigorous")), on_record(Caution.PRESSURE_ACUTE), Caution.PRESSURE_ACUTE),
    "a straw seven centimetres deep": (programme(item_with("straw_water", depth_cm=7)), on_record(Caution.PRESSURE_ACUTE), Caution.PRESSURE_ACUTE),
    "a breath held by a pause": (programme(item_with("hum_hold", pause_s=4)), on_record(Caution.PRESSURE_ACUTE), Caution.PRESSURE_ACUTE),
    "all the air but two seconds, with glaucoma": (programme(item_with("hum_hold", seconds=13)), on_record(Caution.PRESSURE, best={"hold": 15.0}), Caution.PRESSURE),
    # Healing vocal folds.
    "strong chains after surgery": (programme(item_with("nasal_chain")), SURGERY, Caution.VOCAL_FOLD_SURGERY),
    "a mission for the day after surgery": (programme(item_with("carry_over")), SURGERY, Caution.VOCAL_FOLD_SURGERY),
    "firm onsets after an injection": (programme(item_with("light_onsets")), SURGERY, Caution.VOCAL_FOLD_SURGERY),
    "a swell after surgery": (programme(item_with("swell_fade", seconds=4, notes=[F3])), SURGERY, Caution.VOCAL_FOLD_SURGERY),
    "a hold of two thirds of best after surgery": (programme(item_with("hum_hold", seconds=10, notes=[F3])), SURGERY, Caution.VOCAL_FOLD_SURGERY),
    "a hold of eight seconds, best unknown": (programme(item_with("oo_buzz")), SURGERY_UNMEASURED, Caution.VOCAL_FOLD_SURGERY),
    "five rising notes, range unknown": (programme(item_with("block_power", seconds=4, notes=[48, 50, 52, 53, 55])), SURGERY_UNMEASURED, Caution.VOCAL_FOLD_SURGERY),
    "one high note, range unknown": (programme(item_with("hum_hold", seconds=4, notes=[C4])), SURGERY_UNMEASURED, Caution.VOCAL_FOLD_SURGERY),
    "a note above the comfortable range": (programme(item_with("hum_hold", seconds=4, notes=[E4])), SURGERY, Caution.VOCAL_FOLD_SURGERY),
    "a scale that climbs out of the range": (programme(item_with("five_five_nine", notes=[F3])), SURGERY, Caution.VOCAL_FOLD_SURGERY),
    "a siren with no ends": (programme(item_with("sirens")), SURGERY_UNMEASURED, Caution.VOCAL_FOLD_SURGERY),
    # Lungs.
    "panting with lung disease": (programme(item_with("panting")), LUNG, Caution.LUNG_DISEASE),
    "a hiss of sixty seconds on eight": (programme(item_with("steady_hiss", seconds=60)), LUNG, "over_lung_share"),
    "a straw hold of ninety per cent": (programme(item_with("straw_hold", seconds=7.2)), LUNG, "over_lung_share"),
    "a hum of eight seconds, best unknown": (programme(item_with("hum_hold")), on_record(Caution.LUNG_DISEASE), "lung_best_unknown"),
    "a hiss of fifteen seconds, best unknown": (programme(item_with("steady_hiss")), on_record(Caution.LUNG_DISEASE), "lung_best_unknown"),
    "rising hisses to thirty seconds": (programme(item_with("steady_hiss", row=[15, 20, 30])), LUNG, "over_lung_share"),
    "counts out for nine seconds, best of ten": (programme(item_with("ten_fifteen")), on_record(Caution.LUNG_DISEASE, best={"hiss": 10.0}), Caution.LUNG_DISEASE),
    "a quiet breath hold with asthma": (programme(item_with("quiet_hold")), LUNG, Caution.LUNG_DISEASE),
    "an own breath hold between counts": (programme(item_with("slow_counts", held=4)), LUNG, Caution.LUNG_DISEASE),
    # Any client.
    "a hiss of sixty seconds on a best of eighteen": (programme(item_with("steady_hiss", seconds=60)), Who(**MEASURED), "over_best"),
    "a hold of half as much again": (programme(item_with("hum_hold", seconds=23)), Who(**MEASURED), "over_best"),
    "thirty breaths a minute for a minute": (programme(item_with("slow_counts", breath_in=2, breath_out=2, tempo=120, cycles=30)), Who(**MEASURED), "breath_too_fast"),
    "a breath held for forty-five seconds": (programme(item_with("quiet_hold", held_s=45)), Who(**MEASURED), "breath_hold_too_long"),
    "strong work before an event": (programme(STRONG, **EVENT), Who(**MEASURED), "event_full_effort"),
    "a maximal hold before an event": (programme(item_with("hum_hold", seconds=14), **EVENT), Who(**MEASURED), "event_full_effort"),
    "a floor with no ceiling": (programme(item_with("strong_oh", floor=10)), Who(**MEASURED), "floor_without_ceiling"),
    "a ceiling thirty decibels up": (programme(item_with("strong_oh", ceiling=30)), Who(**MEASURED), "ceiling_too_high"),
    "strong voice with nothing before it": (programme(STRONG, item_with("descending_hum")), Who(**MEASURED), "loud_without_warming"),
    "a note nobody has heard the client hold": (programme(item_with("hum_hold", notes=[A4])), Who(**MEASURED), "outside_held_range"),
    "an hour of sirens": (programme(*(item_with("straw_circles", id=f"i{n}", minutes=4.5, notes=[50, 57]) for n in range(12))), Who(**MEASURED), "session_over_cap"),
    "a third of the day's voice a session": (programme(item_with("read_aloud", minutes=8), dose={"a_day": 3}), Who(**MEASURED), "too_much_voice_a_day"),
    # Lying down, water, falls, latex, glass.
    "lying flat with aspiration": (programme(item_with("lying_book")), on_record(Caution.ASPIRATION), Caution.ASPIRATION),
    "counts lying with a book, and aspiration": (programme(item_with("slow_counts", posture="lying with book")), on_record(Caution.ASPIRATION), Caution.ASPIRATION),
    "a straw in water with aspiration": (programme(item_with("straw_water")), on_record(Caution.ASPIRATION), Caution.ASPIRATION),
    "breath in through a straw with aspiration": (programme(item_with("hum_hold", breath_in_by="straw")), on_record(Caution.ASPIRATION), Caution.ASPIRATION),
    "lying flat with reflux": (programme(item_with("lying_book")), on_record(Caution.REFLUX), Caution.REFLUX),
    "lying flat late in pregnancy": (programme(item_with("lying_book")), on_record(Caution.LYING), Caution.LYING),
    "a glass tube with tremor": (programme(item_with("tube_water")), on_record(Caution.TREMOR), Caution.TREMOR),
    "a latex balloon": (programme(item_with("balloon")), on_record(Caution.LATEX), Caution.LATEX),
    # Neck, jaw, blood, belly, breath.
    "a wide strong vowel with a jaw disorder": (programme(STRONG), on_record(Caution.JAW_DISORDER), Caution.JAW_DISORDER),
    "neck kneading after thyroid surgery": (programme(item_with("shoulder_circles")), on_record(Caution.NECK_SURGERY), Caution.NECK_SURGERY),
    "strong phrases on blood thinners": (programme(item_with("functional_phrases")), on_record(Caution.BLOOD_THINNERS), Caution.BLOOD_THINNERS),
    "a hard blow with a weak pelvic floor": (programme(item_with("sh_four")), on_record(Caution.ABDOMINAL), Caution.ABDOMINAL),
    "fast counts with panic attacks": (programme(item_with("slow_counts", breath_in=2, breath_out=2, tempo=120, cycles=10)), on_record(Caution.BREATHING_ATTACKS), Caution.BREATHING_ATTACKS),
    "any voice task with a tracheostomy": (programme(item_with("hum_hold")), on_record(Caution.AIRWAY), Caution.AIRWAY),
    "a long hiss with fainting": (programme(item_with("steady_hiss")), on_record(Caution.FAINTING), Caution.FAINTING),
    # A child.
    "a strong vowel with no low ceiling for a child": (programme(STRONG), CHILD, Caution.CHILD),
    "a child's breath held for twelve seconds": (programme(item_with("quiet_hold", held_s=12)), CHILD, Caution.CHILD),
    "a quarter of an hour for a child": (programme(*(item_with("hum_hold", id=f"h{n}", seconds=10, reps=8) for n in range(6))), CHILD, "session_over_cap"),
    "a child and nobody grown-up": (programme(item_with("hum_hold")), on_record(Caution.CHILD), "no_grown_up"),
}  # fmt: skip


@pytest.mark.parametrize("case", DANGEROUS)
def test_a_dangerous_programme_is_noticed(case):
    document, who, what = DANGEROUS[case]
    findings = found(document, who)
    spoken = {each.about or each.code for each in findings if each.level is not Severity.HINT}
    assert str(what) in spoken


def test_there_are_sixty_sound_programmes():
    assert len(DANGEROUS) >= 60


WEEKS = {
    "a straw from 2 to 7 cm deep": (item_with("straw_water", depth_cm=2), item_with("straw_water", depth_cm=7), "pressure_step_too_large"),
    "a straw from 6 to 3 mm wide": (item_with("siren_on_straw"), item_with("siren_on_straw", bore_mm=3, length_cm=12), "pressure_step_too_large"),
    "loud reading from one to ten minutes": (item_with("read_aloud", minutes=1), item_with("read_aloud", minutes=10), "loud_step_too_large"),
    "twice the strong vowels": (item_with("strong_ah", reps=4, seconds=20), item_with("strong_ah", reps=8, seconds=20), "loud_step_too_large"),
}  # fmt: skip


@pytest.mark.parametrize("case", WEEKS)
def test_a_load_that_grows_too_fast_within_a_week_is_noticed(case):
    before, now, code = WEEKS[case]
    assert code in {each.code for each in found(programme(now), week_ago=programme(before))}
    assert code not in {each.code for each in found(programme(before), week_ago=programme(before))}


@pytest.mark.parametrize(
    ("before", "now"),
    [
        (item_with("straw_water", depth_cm=2), item_with("straw_water", depth_cm=3)),
        (item_with("read_aloud", minutes=1), item_with("read_aloud", minutes=1.5)),
    ],
)
def test_the_smallest_step_is_never_too_fast(before, now):
    codes = {each.code for each in found(programme(now), week_ago=programme(before))}
    assert not codes & {"pressure_step_too_large", "loud_step_too_large"}


def test_a_say_so_leaves_a_warning_that_still_speaks():
    document = programme(STRONG)
    allowed = found(document, on_record(Caution.PRESSURE, said_so=(Caution.PRESSURE,)))
    levels = {each.level for each in allowed if each.about == Caution.PRESSURE}
    assert levels == {Severity.WARN}


TALL, STRAW, HUM, QUIET = (
    item_with("sit_tall"),
    item_with("straw_hold", notes=[F3]),
    item_with("descending_hum", notes=[57, 50]),
    item_with("quiet_minute"),
)
POWER = item_with("block_power", seconds=12, notes=[48, 50, 52, 53, 55], ceiling=3)
PHRASES = item_with("functional_phrases", floor=4, ceiling=14)
READING = item_with("read_aloud", floor=4, ceiling=14)
USUAL = {
    "the block alone": programme(TALL, STRAW, item_with("block_warm_up", notes=[F3]), item_with("block_stretch", notes=[45, 60]), item_with("block_contract", notes=[60, 45]), POWER, QUIET),
    "the block with release": programme(item_with("jaw_circles"), item_with("neck_side"), STRAW, item_with("block_warm_up", notes=[F3]), POWER, QUIET),
    "the block once daily": programme(TALL, item_with("hum_hold", notes=[F3]), item_with("block_warm_up", notes=[F3]), POWER, dose={"a_day": 1}),
    "power notes only": programme(TALL, item_with("straw_hold", notes=[F3], reps=5), POWER),
    "straws and hums": programme(TALL, STRAW, item_with("straw_glide_up", notes=[48, 57]), item_with("straw_glide_down", notes=[57, 48]), item_with("straw_circles", notes=[50, 57]), HUM),
    "a straw in water": programme(TALL, item_with("straw_water", notes=[F3], reps=5), item_with("straw_water", id="second", notes=[G3], reps=5), HUM),
    "deep water for a paretic fold": programme(TALL, item_with("straw_water", depth_cm=4, notes=[F3], reps=8), item_with("lip_trill_hold", notes=[F3], reps=8), HUM),
    "trills": programme(item_with("lips_stretch"), item_with("lip_trill_hold", notes=[F3]), item_with("lip_trill_glide", notes=[48, 57]), item_with("tongue_trill_hold", notes=[F3]), item_with("hum_mee", notes=[F3]), HUM),
    "the loud hour of the day": programme(TALL, STRAW, item_with("nasal_chain", floor=4, ceiling=14), item_with("strong_ah", floor=5, ceiling=15, reps=8), PHRASES, item_with("think_answer", floor=4, ceiling=14), item_with("conversation", floor=4, ceiling=14), HUM, item_with("straw_down", notes=[55, 48]), dose={"a_day": 1}, **LOUD_AFTER),
    "loud reading": programme(TALL, STRAW, READING, item_with("stretched_words", floor=4, ceiling=14), HUM, item_with("straw_down", notes=[55, 48]), dose={"a_day": 1}, **LOUD_AFTER),
    "loudness at its least": programme(STRAW, item_with("strong_oh", floor=5, ceiling=15), READING, HUM, dose={"a_day": 1}, **LOUD_AFTER),
    "breath before voice": programme(TALL, item_with("belly_hand"), item_with("slow_counts"), item_with("steady_hiss", seconds=15), item_with("s_to_z"), item_with("hum_hold", notes=[F3]), HUM),
    "breath for a singer": programme(item_with("ribs_sideways"), item_with("counts_growing"), item_with("steady_hiss", row=[12, 15, 18]), item_with("hiss_swell", seconds=15), item_with("pulses"), item_with("five_note", notes=[50]), HUM),
    "resonance": programme(TALL, item_with("hum_mee", notes=[F3]), item_with("ng_ah", notes=[F3]), item_with("hum_phrase"), item_with("bright_call"), item_with("clear_sentences"), HUM, dose={"a_day": 1}),
    "speaking pitch": programme(TALL, STRAW, item_with("easiest_pitch"), item_with("tuneful_counting"), item_with("greeting"), item_with("clear_sentences"), HUM, dose={"a_day": 1}),
    "range": programme(TALL, STRAW, item_with("sigh_down", notes=[57, 48]), item_with("sirens", notes=[48, 57]), item_with("growing_numbers", notes=[48], rounds_down=1, rounds_up=1), HUM, dose={"a_day": 1}),
    "articulation": programme(item_with("jaw_circles"), item_with("lips_stretch"), item_with("tongue_points"), item_with("consonant_rows"), item_with("twisters"), item_with("clear_sentences"), item_with("describe_map"), dose={"a_day": 1}),
    "a warm-up before a performance": programme(TALL, item_with("steady_hiss", seconds=12), item_with("hum_hold", notes=[F3], seconds=8), item_with("straw_glide_up", notes=[48, 57]), item_with("siren_on_hum", notes=[48, 57]), item_with("five_note", notes=[50]), item_with("hum_phrase"), item_with("clear_sentences"), item_with("twisters"), HUM, sort="event", dose={"kind": "on_demand"}),
    "maintenance twice a week": programme(STRAW, item_with("hum_mee", notes=[F3]), HUM, sort="maintenance", dose={"kind": "rolling", "a_day": 1, "weekdays": [1, 4], "weeks": 13}),
    "a reset after a call": programme(item_with("reset"), sort="reset", dose={"kind": "on_demand", "a_day": 6}),
}  # fmt: skip


@pytest.mark.parametrize("case", USUAL)
def test_a_usual_programme_has_at_most_three_findings_and_no_stop(case):
    findings = found(USUAL[case])
    assert all(each.level is not Severity.STOP for each in findings), findings
    assert len(findings) <= 3, [(each.code, each.item) for each in findings]


def test_there_are_twenty_dangerous_programmes():
    assert len(USUAL) == 20


@pytest.mark.parametrize(
    ("code", "notes", "lacks"),
    [("five_note", [], True), ("five_note", [F3], False), ("straw_hold", [], False)],
)
def test_a_scale_without_a_start_note_is_pointed_out(code, notes, lacks):
    codes = {each.code for each in found(programme(item_with(code, notes=notes)), Who(**MEASURED))}
    assert ("no_start_note" in codes) is lacks
