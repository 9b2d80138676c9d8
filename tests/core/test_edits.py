"""Edits of a programme: each has its effect, can be undone, and reports its place."""

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from reedcore.catalogue.tasks import shipped_tasks
from reedcore.checks import Finding, Fix, FixKind, Severity
from reedcore.errors import NoSuchItem, NoSuchTask, NotAnEdit
from reedcore.pitch import Note
from reedcore.programme.changes import (
    DropValue,
    PutItem,
    SetValue,
    ShiftItem,
    TakeItem,
    apply_changes,
    changes_between,
    changes_of,
    clashes,
    raw_changes,
)
from reedcore.programme.document import clean_document
from reedcore.programme.document_values import programme_from
from reedcore.programme.edits import (
    AddItem,
    BeginTaper,
    ChooseRung,
    ClimbRung,
    Maintain,
    MoveItem,
    Overrule,
    PlaceItem,
    RemoveItem,
    RepeatItem,
    SetField,
    SetFrame,
    SetLimit,
    SetParameter,
    SetSeconds,
    StepTaper,
    Swap,
    Toggle,
    apply_edit,
    apply_edits,
    edit_of,
)
from reedcore.programme.fixing import fix_edits
from tests.documents import empty_document, new_item

TASKS = shipped_tasks()
TODAY = date(2026, 3, 2)


def session(*codes):
    """Return a document with these tasks, with ids a, b, c …"""
    ids = "abcdefgh"
    items = [new_item(TASKS[code], id=ids[at]) for at, code in enumerate(codes)]
    return {**empty_document(TODAY), "items": items}


def ids(document):
    return "".join(item["id"] for item in document["items"])


THREE = session("straw_hold", "strong_ah", "hum_hold")
MOVES = {
    "down": (MoveItem("a", 1), "bac"),
    "up": (MoveItem("c", -1), "acb"),
    "past the end": (MoveItem("a", 9), "bca"),
    "past the beginning": (MoveItem("c", -9), "cab"),
    "where another stands, before it": (PlaceItem("c", "a"), "cab"),
    "where another stands, behind it": (PlaceItem("a", "c"), "bca"),
    "to the end": (PlaceItem("a"), "bca"),
    "where it is": (PlaceItem("b", "b"), "abc"),
    "out": (RemoveItem("b"), "ac"),
    "once more": (RepeatItem("a", "x"), "axbc"),
    "a new one behind another": (AddItem("x", "scalp", "a"), "axbc"),
    "a new one first": (AddItem("x", "scalp", ""), "xabc"),
    "a new one last": (AddItem("x", "scalp"), "abcx"),
    "a new one behind one that is gone": (AddItem("x", "scalp", "ghost"), "abcx"),
}


@pytest.mark.parametrize(("edit", "order"), MOVES.values(), ids=MOVES.keys())
def test_the_position_of_an_added_item(edit, order):
    before = ids(THREE)
    assert ids(apply_edit(THREE, edit, TASKS)) == order
    assert ids(THREE) == before  # The given document stays unchanged.


SETS = {
    "a field": (SetField("a", "notes", [53]), ("notes",), [53]),
    "a number": (SetParameter("a", "seconds", 12), ("params", "seconds"), 12),
    "a limit": (SetLimit("a", "spread_cents", 25.0), ("limits", "spread_cents"), 25.0),
    "yes to no": (Toggle("b", "sip"), ("sip",), False),
    "a rung up": (ClimbRung("a", 1), ("params", "seconds"), 9.0),
    "a rung down": (ClimbRung("a", -1), ("params", "seconds"), 7.0),
    "a rung by its place": (ChooseRung("a", 0), ("params", "seconds"), 0.5),
    "another task": (Swap("a", "lip_trill_hold"), ("task",), "lip_trill_hold"),
}


@pytest.mark.parametrize(("edit", "where", "value"), SETS.values(), ids=SETS.keys())
def test_the_sentence_of_an_item_after_an_edit(edit, where, value):
    found = next(i for i in apply_edit(THREE, edit, TASKS)["items"] if i["id"] == edit.item)
    for name in where:
        found = found[name]
    assert found == value


def test_a_rung_of_seconds_goes_from_the_highest_of_a_row_and_the_row_gives_way():
    rising = apply_edit(THREE, SetField("a", "row", [6, 9, 14]), TASKS)
    (item,) = apply_edit(rising, ClimbRung("a", 1), TASKS)["items"][:1]
    assert (item["params"]["seconds"], item["row"]) == (16.0, [])


def test_a_rung_at_the_end_of_its_ladder_changes_nothing():
    top = apply_edit(session("quiet_hold"), SetParameter("a", "held_s", 90), TASKS)
    assert apply_edit(top, ClimbRung("a", 1), TASKS) == top


def test_optional_tasks_can_be_chosen_by_hand():
    near = apply_edit(session("quiet_hold"), SetParameter("a", "held_s", 30), TASKS)
    assert apply_edit(near, ClimbRung("a", 1), TASKS)["items"][0]["params"]["held_s"] == 45


def test_a_reason_is_written_and_undone():
    written = apply_edit(THREE, Overrule("low:a", "  agreed "), TASKS)
    assert written["overrules"] == {"low:a": "agreed"}
    assert apply_edit(written, Overrule("low:a", " "), TASKS)["overrules"] == {}


def test_the_taper_comes_and_goes_back_as_edits_do():
    block = session("block_power")
    begun = apply_edit(block, BeginTaper(20.0, TODAY), TASKS)
    on = apply_edit(begun, StepTaper(1, TODAY), TASKS)
    assert (begun["taper"]["week"], on["taper"]["week"]) == (1, 2)
    assert apply_changes(on, changes_between(on, block)) == block
    kept = apply_edit(on, Maintain(TODAY), TASKS)
    assert "taper" not in kept
    assert kept["sort"] == "maintenance"


REFUSED = {
    "an item that is not there": (SetField("ghost", "sip", True), NoSuchItem),
    "a task of no catalogue": (AddItem("x", "horoscope"), NoSuchTask),
    "a swap to none": (Swap("a", "horoscope"), NoSuchTask),
    "an id": (SetField("a", "id", "b"), NotAnEdit),
    "yes or no of a text": (Toggle("a", "sound"), NotAnEdit),
    "a rung beyond": (ChooseRung("a", 99), NotAnEdit),
    "a rung without a ladder": (ChooseRung("b", -1), NotAnEdit),
    "the items as a frame": (SetFrame("", "items", []), NotAnEdit),
    "one more under an id that another has": (AddItem("b", "scalp"), NotAnEdit),
    "the same again under its own id": (RepeatItem("a", "a"), NotAnEdit),
}


@pytest.mark.parametrize(("edit", "refusal"), REFUSED.values(), ids=REFUSED.keys())
def test_an_impossible_edit_is_refused(edit, refusal):
    with pytest.raises(refusal):
        apply_edit(THREE, edit, TASKS)


@pytest.mark.parametrize(
    "raw", [None, 3, {}, {"do": "dance"}, {"do": "move_item", "item": "a", "by": "far"}]
)
def test_an_invalid_edit_is_refused(raw):
    with pytest.raises(NotAnEdit):
        edit_of(raw)


def test_changes_that_are_none_are_refused():
    with pytest.raises(NotAnEdit):
        changes_of([{"is_a": "put"}])


FIXES = {
    "remove": (Fix(FixKind.REMOVE), "b", lambda d: ids(d) == "ac"),
    "seconds": (
        Fix(FixKind.SET_SECONDS, 6.0),
        "a",
        lambda d: d["items"][0]["params"]["seconds"] == 6.0,
    ),
    "notes": (Fix(FixKind.SET_NOTES, (Note(50),)), "a", lambda d: d["items"][0]["notes"] == [50]),
    "ceiling": (Fix(FixKind.SET_CEILING, 16.0), "b", lambda d: d["items"][1]["ceiling"] == 16.0),
    "floor": (Fix(FixKind.DROP_FLOOR), "b", lambda d: d["items"][1]["floor"] is None),
    "sip": (Fix(FixKind.SIP_AFTER), "a", lambda d: d["items"][0]["sip"]),
    "last": (Fix(FixKind.MOVE_LAST), "a", lambda d: ids(d) == "bca"),
    "before what is loud": (Fix(FixKind.MOVE_FIRST), "c", lambda d: ids(d) == "acb"),
    "a cool-down": (Fix(FixKind.ADD_TASK, "descending_hum"), "b", lambda d: ids(d) == "abcx"),
    "a warming task": (Fix(FixKind.ADD_TASK, "scalp"), "b", lambda d: ids(d) == "axbc"),
    "in the short day": (Fix(FixKind.MARK_SHORT, "a"), None, lambda d: d["items"][0]["short"]),
    "a day less": (Fix(FixKind.DROP_DAY, 4), None, lambda d: d["dose"]["weekdays"] == [0, 1, 2, 3]),
}


def test_every_kind_of_fix_is_an_edit():
    assert {each[0].kind for each in FIXES.values()} == set(FixKind)


@pytest.mark.parametrize(("fix", "item", "holds"), FIXES.values(), ids=FIXES.keys())
def test_a_fix_does_what_it_offers_and_can_be_undone(fix, item, holds):
    before = apply_edit(THREE, SetField("b", "floor", 4), TASKS)
    finding = Finding(Severity.WARN, "any", item, {}, fix)
    after = apply_edits(before, fix_edits(finding, programme_from(before), TASKS, id="x"), TASKS)
    assert holds(after)
    assert not holds(before)
    assert apply_changes(after, changes_between(after, before)) == before
    assert clean_document(after, tasks=TASKS)[1] == []


def test_a_finding_without_a_fix_offers_no_edit():
    assert fix_edits(Finding(Severity.HINT, "any", "a"), programme_from(THREE), TASKS, id="x") == ()


def test_a_breath_hold_that_is_too_long_is_made_shorter_by_its_own_name():
    held = session("quiet_hold")
    after = apply_edit(held, SetSeconds("a", 10), TASKS)
    assert after["items"][0]["params"]["held_s"] == 10
    assert "seconds" not in after["items"][0]["params"]


TOUCH = {
    "the same number": (
        SetValue(("items", "a", "params", "reps"), 3),
        SetValue(("items", "a", "params", "reps"), 4),
        True,
    ),
    "the same to the same": (
        SetValue(("items", "a", "sip"), True),
        SetValue(("items", "a", "sip"), True),
        False,
    ),
    "two numbers of one item": (
        SetValue(("items", "a", "params", "reps"), 3),
        SetValue(("items", "a", "params", "seconds"), 4),
        False,
    ),
    "two items": (
        SetValue(("items", "a", "sip"), True),
        SetValue(("items", "b", "sip"), False),
        False,
    ),
    "a number of what is out": (SetValue(("items", "a", "sip"), True), TakeItem("a"), True),
    "moved and out": (ShiftItem("a", ""), TakeItem("a"), True),
    "moved and changed": (ShiftItem("a", ""), SetValue(("items", "a", "sip"), True), False),
    "moved twice": (ShiftItem("a", "b"), ShiftItem("a", ""), True),
    "two moved": (ShiftItem("a", "b"), ShiftItem("c", ""), False),
    "put in and put in": (PutItem({"id": "x"}), PutItem({"id": "y"}), False),
    "a reason and another": (
        SetValue(("overrules", "k"), "so"),
        DropValue(("overrules", "l")),
        False,
    ),
    "the dose whole": (SetValue(("dose",), {}), SetValue(("dose", "weeks"), 3), True),
}


@pytest.mark.parametrize(("mine", "theirs", "touch"), TOUCH.values(), ids=TOUCH.keys())
def test_conflicting_edits(mine, theirs, touch):
    assert bool(clashes([mine], [theirs])) is touch
    assert bool(clashes([theirs], [mine])) is touch


CODES = ("straw_hold", "strong_ah", "hum_hold", "scalp", "quiet_hold", "five_note")


@st.composite
def any_edit(draw):
    """Generate an edit of items a to f, some of which may be gone."""
    item = draw(st.sampled_from("abcdefgh"))
    return draw(
        st.one_of(
            st.builds(
                AddItem, st.sampled_from("mnopq"), st.sampled_from(CODES), st.sampled_from("abcdef")
            ),
            st.just(RemoveItem(item)),
            st.builds(MoveItem, st.just(item), st.integers(-3, 3)),
            st.builds(PlaceItem, st.just(item), st.sampled_from("abcdef")),
            st.builds(
                SetField, st.just(item), st.just("notes"), st.lists(st.integers(40, 70), max_size=3)
            ),
            st.just(Toggle(item, "short")),
            st.builds(ClimbRung, st.just(item), st.sampled_from((-1, 1))),
            st.builds(SetFrame, st.just("dose"), st.just("weeks"), st.integers(1, 20)),
            st.builds(Overrule, st.sampled_from(("k:a", "k:b")), st.sampled_from(("", "agreed"))),
        )
    )


def edited(document, edits):
    made = document
    for each in edits:
        try:
            made = apply_edit(made, each, TASKS)
        except (NoSuchItem, NotAnEdit):  # It is gone, or was inserted before.
            continue
    return made


@given(st.lists(any_edit(), max_size=12))
def test_any_run_of_edits_is_stored_as_changes_and_undone_by_them(edits):
    before = session(*CODES)
    after = edited(before, edits)
    assert clean_document(after, tasks=TASKS)[1] == []
    forth, back = (
        changes_of(raw_changes(changes_between(*pair)))
        for pair in ((before, after), (after, before))
    )
    assert apply_changes(before, forth) == after
    assert apply_changes(after, back) == before


@given(any_edit(), any_edit())
def test_independent_edits_give_the_same_result_in_any_order(mine, theirs):
    base = session(*CODES)
    one, other = (changes_between(base, edited(base, [each])) for each in (mine, theirs))
    one = [each for each in one if each not in other]
    puts = [each for each in (*one, *other) if isinstance(each, PutItem | ShiftItem)]
    gone = {each.item for each in (*one, *other) if isinstance(each, TakeItem)}
    if clashes(one, other) or clashes(other, one):
        return
    if len(puts) > 1 or any(each.after in gone for each in puts):
        return  # Two that return to their place, or follow a removed one, keep their order.
    assert apply_changes(apply_changes(base, one), other) == apply_changes(
        apply_changes(base, other), one
    )
