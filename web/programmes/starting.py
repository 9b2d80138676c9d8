"""Four programmes to start from, filled in from the client's targets."""

from datetime import date

from reedcore.checks.targets import HIGHEST_ABOVE_COMFORT_DB
from reedcore.devices.bores import ALIKE, BORES
from reedcore.errors import Refusal
from reedcore.ladders import rung_at_or_under_s
from reedcore.measures import kind_of
from reedcore.pitch import Note, note_nearest
from reedcore.pitch.note_sets import USUAL_SETS, placed
from reedcore.programme.document import LIMITS, empty_document, new_item
from reedcore.programme.plan import reach_of
from reedcore.programme.sounds import is_glide

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


#: What can stand beside a programme: its name, and its tasks, what is changed of each.
BESIDES = {
    "reset": ("reset on a trigger", (("reset", {}),)),
    "event": (
        "set before an event",
        (
            ("sit_tall", {}),
            ("steady_hiss", {}),
            ("hum_hold", {}),
            ("straw_hold", {}),
            ("straw_glide_up", {}),
            ("straw_glide_down", {}),
            ("siren_on_hum", {}),
            ("five_note", {}),
            ("hum_mee", {}),
            ("hum_phrase", {}),
            ("clear_sentences", {}),
        ),
    ),
    "maintenance": ("maintenance", (("straw_hold", {}), ("hum_mee", {}), ("descending_hum", {}))),
}
#: Of each, how often.
_BESIDE_DOSES = {
    "reset": {"kind": "on_demand", "a_day": 6, "weeks": 13, "trigger": "after a long call"},
    "event": {
        "kind": "on_demand",
        "a_day": 1,
        "weeks": 13,
        "trigger": "a quarter of an hour before",
    },
    "maintenance": {"kind": "rolling", "a_day": 1, "weekdays": [1, 4], "weeks": 13},
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
    document = empty_document(today, client.wording(on=today))
    document |= {"school": school, "sort": _SORTS.get(code, "full")}
    document["dose"] |= dose
    for number, (name, changes, short) in enumerate(_TASKS[code], start=1):
        if name in tasks:
            id = f"{code}-{number}".replace("_", "-")
            item = filled(
                tasks[name], id=id, client=client, targets=targets, found=found, changes=changes
            )
            document["items"].append({**item, "short": short})
    return document


def beside(code: str, *, client, targets: dict, tasks: dict, found, today: date):
    """A programme to put beside the main one: the strand, and its items."""
    dose = {**empty_document(today)["dose"], **_BESIDE_DOSES[code]}
    strand = {"sort": code, "dose": dose}
    items = []
    for number, (name, changes) in enumerate(BESIDES[code][1], start=1):
        if name in tasks:
            id = f"{code}-{number}"
            item = filled(
                tasks[name], id=id, client=client, targets=targets, found=found, changes=changes
            )
            items.append({**item, "strand": code})
    return strand, items


def filled(task, *, id: str, client, targets: dict, found, changes=None) -> dict:
    """A task as an item, with this client's notes, seconds, levels and props."""
    changes = dict(changes or {})
    item = new_item(task, id=id)
    kind = kind_of(task.measure)
    note = changes.pop("note", task.note_set or ("warm_up" if task.notes == 1 else ""))
    item |= changes
    if is_glide(item, task):
        item["notes"] = _glide_ends(task, client, found)
    elif note or task.notes > 1:
        item["notes"] = _notes(note or "power", client, targets, found)
        if task.note_set == "power" and not item["notes"]:
            item["sets"] = _POWER_NOTES
        item["notes"] = _within(item, task, client, found)
    item["params"] |= _owned_bore(task, client)
    _fill_targets(item, task, kind, targets)
    _keep_within_best(item, task, found)
    return item


def _keep_within_best(item, task, found):
    """A hiss is asked for at most as long as the longest one of the baseline."""
    unvoiced = kind_of(task.measure).in_seconds and not task.voiced
    longest = found.longest_s if found and unvoiced else None
    if longest is not None and item["params"].get("seconds", 0.0) > longest.seconds:
        lowest = task.parameters["seconds"].lowest
        item["params"]["seconds"] = max(lowest, rung_at_or_under_s(longest.seconds))


def _fill_targets(item, task, kind, targets):
    """Seconds, steadiness and levels, as the targets have them."""
    hold = targets.get("hold")
    seconds = hold.values.get("today_s") if hold else None
    if seconds and task.note_set:
        item["params"]["seconds"] = min(seconds, task.parameters["seconds"].highest)
        item["counts"] = hold.counts or "total"
    elif seconds and kind.steady and task.breath_inside == "none":
        item["params"]["seconds"] = min(item["params"].get("seconds", seconds), seconds)
    steadiness = targets.get("steadiness")
    if steadiness and kind.steady and task.family == "block":
        item["limits"] = {name: steadiness.values.get(name) for name in LIMITS}
    if task.is_loud:
        level = targets["loud_level"].values if "loud_level" in targets else {}
        item["floor"] = level.get("floor_db")
        item["ceiling"] = level.get("ceiling_db", HIGHEST_ABOVE_COMFORT_DB)
    elif task.family in ("occluded", "block") and kind.with_level and "soft_level" in targets:
        item["ceiling"] = targets["soft_level"].values.get("ceiling_db")
    elif kind.by_line and "talk_level" in targets:
        item["floor"] = targets["talk_level"].values.get("floor_db")
        item["ceiling"] = targets["talk_level"].values.get("ceiling_db")


def _owned_bore(task, client):
    """Bore and length of the straw or tube that the client has, where the task takes them."""
    if "bore_mm" not in task.parameters or not task.props:
        return {}
    alike = next((each for each in ALIKE if task.props[0] in each), frozenset())
    owned = [prop for prop in client.props if prop in alike]
    if not owned or task.props[0] in owned:
        return {}
    bore_mm, length_cm = BORES[owned[0]]
    return {"bore_mm": bore_mm, "length_cm": length_cm}


def _comfortable(client, found):
    """The lowest and the highest note of the comfortable range; None where it is not known."""
    if found is None or found.comfortable_range is None:
        return None
    a4_hz = client.clinic.a4_hz
    try:
        low, _ = note_nearest(found.comfortable_range.low_hz, a4_hz=a4_hz)
        high, _ = note_nearest(found.comfortable_range.high_hz, a4_hz=a4_hz)
    except Refusal:
        return None
    return low, high


def _within(item, task, client, found):
    """A pattern's start note, moved so that its highest note lies in the comfortable range."""
    reach, ends = reach_of(item, task), _comfortable(client, found)
    if not reach or ends is None:
        return item["notes"]
    low, high = ends
    down = max(0, reach[1].midi - high.midi)
    return [max(low.midi, midi - down) for midi in item["notes"]]


def _notes(kind, client, targets, found):
    notes = targets.get("notes")
    values = notes.values if notes else {}
    if "warm_up_midi" in values:
        warm_up = int(values["warm_up_midi"])
        power = [int(value) for name, value in sorted(values.items()) if name.startswith("power_")]
        return power if kind == "power" else [warm_up]
    usual = USUAL_SETS.get(client.voice) or _own_notes(client, found)
    if usual is None:
        return []
    return [note.midi for note in usual.power] if kind == "power" else [usual.warm_up.midi]


def _own_notes(client, found):
    """Five notes in the middle of a voice that has a range of its own."""
    ends = _comfortable(client, found)
    return placed(lowest=ends[0], highest=ends[1]) if ends else None


def _glide_ends(task, client, found):
    """Ends of a glide inside the comfortable range, in the order in which it is sung."""
    comfortable = _comfortable(client, found)
    if comfortable is None:
        return []
    low, high = (note.midi for note in comfortable)
    ends = [low, Note((low + high) // 2).midi] if task.family == "cooldown" else [low, high]
    return ends[::-1] if task.shape == "down" else ends
