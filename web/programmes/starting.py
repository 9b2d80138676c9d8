"""Four programmes to start from, filled in from the client's targets."""

from datetime import date

from reedcore.checks.targets import HIGHEST_ABOVE_COMFORT_DB
from reedcore.errors import Refusal
from reedcore.measures import kind_of
from reedcore.pitch import Note, note_nearest
from reedcore.pitch.note_sets import BASS, TREBLE
from reedcore.programme.document import LIMITS, empty_document, new_item
from reedcore.programme.plan import is_glide, reach_of

STARTING = {
    "block": (
        "Vocal function block",
        "soft",
        {"a_day": 2, "weekdays": [0, 1, 2, 3, 4], "weeks": 6},
    ),
    "occluded": (
        "Semi-occluded reset",
        "soft",
        {"a_day": 3, "weekdays": [0, 1, 2, 3, 4, 5], "weeks": 4},
    ),
    "loud": ("Purposeful loudness", "loud", {"a_day": 1, "weekdays": [0, 1, 2, 3, 4], "weeks": 4}),
    "warm_up": (
        "Warm-up for a working voice",
        "mixed",
        {"a_day": 1, "weekdays": [0, 1, 2, 3, 4], "weeks": 8},
    ),
}
#: Task, what is changed of it, and whether the short day holds it.
_TASKS = {
    "block": (
        ("sit_tall", {}, False),
        ("belly_hand", {}, False),
        ("straw_hold", {"note": "warm_up"}, False),
        ("block_warm_up", {}, True),
        ("block_stretch", {}, False),
        ("block_contract", {}, False),
        ("block_power", {"sip": True}, True),
        ("quiet_minute", {}, False),
    ),
    "occluded": (
        ("sit_tall", {}, False),
        ("jaw_circles", {}, False),
        ("straw_hold", {"note": "warm_up"}, True),
        ("straw_glide_up", {}, True),
        ("straw_glide_down", {}, False),
        ("straw_circles", {"sip": True}, False),
        ("occluded_plain", {}, False),
        ("descending_hum", {}, False),
    ),
    "loud": (
        ("sit_tall", {}, False),
        ("straw_hold", {"note": "warm_up"}, False),
        ("nasal_chain", {}, False),
        ("strong_ah", {}, True),
        ("strong_glides", {}, False),
        ("functional_phrases", {}, True),
        ("think_answer", {}, False),
        ("conversation", {}, False),
        ("descending_hum", {}, False),
        ("straw_down", {}, False),
    ),
    "warm_up": (
        ("sit_tall", {}, False),
        ("arm_reach", {}, False),
        ("steady_hiss", {}, False),
        ("lip_trill_glide", {}, True),
        ("hum_mee", {"note": "warm_up"}, True),
        ("five_note", {"note": "warm_up"}, False),
        ("sirens", {"sip": True}, False),
        ("twisters", {}, False),
        ("clear_sentences", {}, False),
        ("descending_hum", {}, False),
    ),
}


#: The warm-up is for the quarter of an hour before the work; the others are whole sessions.
_SORTS = {"warm_up": "event"}
#: Tries on any easy note, in place of those on five notes that nobody knows yet.
_POWER_NOTES = 5


def started(code: str, *, client, targets: dict, tasks: dict, found, today: date) -> dict:
    """One of the four, with this client's notes, seconds and levels.

    Tasks that the clinic hides are left out.
    """
    _, school, dose = STARTING[code]
    document = empty_document(today)
    document |= {"school": school, "sort": _SORTS.get(code, "full")}
    document["dose"] |= dose
    for number, (name, changes, short) in enumerate(_TASKS[code], start=1):
        if name in tasks:
            item = new_item(tasks[name], id=f"{code}-{number}".replace("_", "-"), short=short)
            _fill(item, tasks[name], dict(changes), client=client, targets=targets, found=found)
            document["items"].append(item)
    return document


def _fill(item, task, changes, *, client, targets, found):
    kind = kind_of(task.measure)
    note = changes.pop("note", task.note_set)
    item |= changes
    if note or task.note_set:
        item["notes"] = _notes(note or task.note_set, client, targets)
        if task.note_set == "power" and not item["notes"]:
            item["sets"] = _POWER_NOTES
        item["notes"] = _within(item, task, client, found)
    elif is_glide(item, task):
        item["notes"] = _glide_ends(task, client, found)
    hold = targets.get("hold")
    seconds = hold.values.get("today_s") if hold else None
    if seconds and task.note_set:
        item["params"]["seconds"] = min(seconds, task.parameters["seconds"].highest)
        item["counts"] = hold.counts or "total"
    elif seconds and kind.steady:
        item["params"]["seconds"] = min(item["params"]["seconds"], seconds)
    steadiness = targets.get("steadiness")
    if steadiness and kind.steady and task.family == "block":
        item["limits"] = {name: steadiness.values.get(name) for name in LIMITS}
    if task.is_loud:
        level = targets["loud_level"].values if "loud_level" in targets else {}
        item["floor"] = level.get("floor_db")
        item["ceiling"] = level.get("ceiling_db", HIGHEST_ABOVE_COMFORT_DB)
    elif task.family in ("occluded", "block") and "soft_level" in targets:
        item["ceiling"] = targets["soft_level"].values.get("ceiling_db")
    elif kind.by_line and "talk_level" in targets:
        item["floor"] = targets["talk_level"].values.get("floor_db")
        item["ceiling"] = targets["talk_level"].values.get("ceiling_db")


def _within(item, task, client, found):
    """A pattern's start note, moved so that its highest note lies in the comfortable range."""
    reach = reach_of(item, task)
    if not reach or found is None or found.comfortable_range is None:
        return item["notes"]
    a4_hz = client.clinic.a4_hz
    low, _ = note_nearest(found.comfortable_range.low_hz, a4_hz=a4_hz)
    high, _ = note_nearest(found.comfortable_range.high_hz, a4_hz=a4_hz)
    down = max(0, reach[1].midi - high.midi)
    return [max(low.midi, midi - down) for midi in item["notes"]]


def _notes(kind, client, targets):
    notes = targets.get("notes")
    values = notes.values if notes else {}
    if "warm_up_midi" in values:
        warm_up = int(values["warm_up_midi"])
        power = [int(value) for name, value in sorted(values.items()) if name.startswith("power_")]
    else:
        usual = {"treble": TREBLE, "bass": BASS}.get(client.voice)
        if usual is None:
            return []
        warm_up, power = usual.warm_up.midi, [each.midi for each in usual.power]
    return power if kind == "power" else [warm_up]


def _glide_ends(task, client, found):
    """Ends of a glide inside the comfortable range, in the order in which it is sung."""
    if found is None or found.comfortable_range is None:
        return []
    a4_hz = client.clinic.a4_hz
    try:
        low, _ = note_nearest(found.comfortable_range.low_hz, a4_hz=a4_hz)
        high, _ = note_nearest(found.comfortable_range.high_hz, a4_hz=a4_hz)
    except Refusal:
        return []
    ends = [low.midi, high.midi]
    if task.family == "cooldown":
        ends = [low.midi, Note((low.midi + high.midi) // 2).midi]
    down = task.family == "cooldown" or task.code in (
        "block_contract",
        "straw_glide_down",
        "sigh_down",
    )
    return ends[::-1] if down else ends
