"""Whole histories with the decision of DOMAIN §6, run by the command line; for each rule both sides
of its limit."""

from functools import partial

import pytest

from reedcore.decisions import Step
from tests.core.histories import day
from tests.core.made_up_courses import Course, course

LAST3, FORTNIGHT, MONTH = (3, 2, 1), range(14, 0, -1), range(28, 0, -1)
#: Nothing is due, so no client is behind.
FREE = {"kind": "on_demand", "a_day": 1}
WEEKS5 = range(35, 0, -1)


def with_events(made, *acts):
    """Return a course with further events."""
    for act in acts:
        act(made)
    return made


def say(back, kind, value, **more):
    return lambda made: made.says(back, kind, value, task=1, **more)


def bother(*pairs):
    return lambda made: [made.says(back, "bother", value) for back, value in pairs]


def decide(back, step, reason, **more):
    return lambda made: made.decides(back, step, reason, **more)


def stop(back, *flags, **more):
    return lambda made: made.stops_on(back, *flags, **more)


def loud(days=LAST3, tries="yyyy", **more):
    more = {"seconds": 10.0, "effort": 8.5, "fields": {"floor": 5.0, "ceiling": 15.0}} | more
    return course(days, tries, task="strong_ah", **more)


def rising_targets(*steps, days=range(9, 0, -1), held=16.0):
    """Return rising targets, each since a number of days: (back, seconds)."""
    made = Course()
    keys = [made.asks(back, ("straw_hold", s, {"notes": [53]}))[0] for back, s in steps]
    for back in days:
        in_force = [key for (since, _), key in zip(steps, keys, strict=True) if since >= back]
        made.does(back, held=held, task=in_force[-1])
    return made


def two_items(short, block, *, short_met=True):
    """Return a reset of 5 s beside a block: the same task in two items."""
    made = Course()
    reset, main = made.asks(
        20, ("straw_hold", short, {"notes": [53], "id": "reset"}),
        ("straw_hold", block, {"notes": [53], "id": "block"}), dose=FREE,
    )  # fmt: skip
    for back in LAST3:
        made.does(back, "yyyy" if short_met else "nnnn", short, task=reset)
        made.does(back, "yyyy", block + 3, task=main)
    return made


def under_another_version(before, after, *, days=(6, 5, 4)):
    """Return a course with all trials on target under one version, and another in force since."""
    made = Course()
    made.asks(20, ("strong_ah", 10, before), dose=FREE)
    for back in days:
        made.does(back, "yyyy", 14.0, effort=8.5)
    made.asks(2, ("strong_ah", 10, after), dose=FREE)
    return made


def taper(week, since, held, days, *, seconds=35.0):
    made = Course(goal_s=35.0)
    item = ("block_power", seconds, {"notes": [53], "id": "p", "tries": 1})
    made.asks(60, item)
    for back in range(60, since, -1):
        made.does(back, "y", 36.0)
    whole = made.versions[0].document
    before = {"items": whole["items"], "dose": whole["dose"]}
    now = {"week": week, "peak_s": 36.0, "since": day(since).isoformat(), "before": before}
    made.asks(since, item, taper=now)
    for back in days:
        made.does(back, "n", held, task=2)
    return made


def felt(*answers, effort=3, code="shoulder_circles", step=1):
    made = Course()
    made.asks(len(answers) * step, (code, None, {}))
    for place, answer in enumerate(answers):
        back = step * (len(answers) - place)
        made.does(back, "?", None, effort=effort, source="told")
        made.says(back, "felt", answer, task=1)
    return made


def resting(*, rests=(), days=range(20, 8, -1), tries="yyyy"):
    made = course(days, tries, 13.0, since=20)
    for back in rests:
        made.rests(back)
    return made


STEPS = {each.value for each in Step}
ADV, STAY, EASE, IN, CALL = "advance", "stay", "ease", "check_in", "call"
EC, LOOK, SWAP, STOP = "ease_and_call", "look_again", "swap", "stop_and_refer"
#: Name → (the course, (step, reason)); a reason of None allows any.
TABLE = {
    # Advance: how many, how often, how well.
    "three sessions of four": (partial(course, LAST3), (ADV, "most_on_target")),
    "two sessions": (partial(course, (2, 1)), (STAY, "more_sessions")),
    "ten of twelve": (partial(course, LAST3, lambda d: "yyyn" if d > 1 else "yyyy"), (ADV, None)),
    "nine of twelve": (partial(course, LAST3, "yyyn"), (STAY, "between")),
    "three sessions of one day": (
        lambda: with_events(course((1,)), lambda made: [made.does(1, minute=m) for m in (240, 480)]), (STAY, None),
    ),
    "three sessions of two days": (
        lambda: with_events(course((2, 1)), lambda made: made.does(1, minute=240)), (ADV, None),
    ),
    "three tries a session are too few where four are asked": (partial(course, LAST3, "yyy"), (STAY, None)),
    "twelve tries over four days where three are asked": (
        partial(course, (4, 3, 2, 1), "yyy", prescribed=3), (ADV, None),
    ),
    "nine tries where three are asked": (partial(course, LAST3, "yyy", prescribed=3), (STAY, None)),
    "the oldest session three weeks back": (partial(course, (20, 10, 1), dose=FREE), (ADV, None)),
    "the oldest session a day more": (partial(course, (21, 10, 1), dose=FREE), (STAY, None)),
    # Effort, in each of those sessions.
    "effort of four in each": (partial(course, LAST3, effort=4), (ADV, None)),
    "effort of five in one": (partial(course, LAST3, effort=lambda d: 5 if d == 2 else 3), (STAY, "effort_too_high")),
    "effort not asked in the last": (partial(course, LAST3, effort=lambda d: None if d == 1 else 3), (STAY, "effort_not_asked")),
    "effort of twelve to ten days ago carries nothing": (
        partial(course, (12, 11, 10, 3, 2, 1), effort=lambda d: 3 if d > 9 else None, dose=FREE), (STAY, "effort_not_asked"),
    ),
    "loud, effort of eight": (partial(loud, effort=8), (ADV, None)),
    "loud, effort of seven": (partial(loud, effort=7), (STAY, "effort_too_low")),
    "effort asked twice in one session, the second time higher": (
        lambda: with_events(course(LAST3), say(1, "effort", 5)), (STAY, "effort_too_high"),
    ),
    # At most a fifth within a week, per item.
    "ten to twelve after a week at ten": (partial(course, FORTNIGHT), (ADV, None)),
    "a fifth more within the week": (partial(rising_targets, (9, 10), (4, 12), held=17.0), (STAY, "enough_this_week")),
    "the same a week later": (partial(rising_targets, (12, 10), (7, 12), days=range(12, 0, -1), held=17.0), (ADV, None)),
    "a programme of three days": (partial(rising_targets, (6, 10), (3, 12), days=range(6, 0, -1), held=17.0), (STAY, None)),
    "from two seconds always a rung": (partial(rising_targets, (9, 1.5), (4, 2), held=5.0), (ADV, None)),
    "an easy reset beside a block": (partial(two_items, 5, 20), (ADV, None)),
    "a reset that is missed keeps no block back": (partial(two_items, 5, 20, short_met=False), (EASE, "few_on_target")),
    # Seconds beyond the target of a client who holds on.
    "holds on, and shows the next rung": (partial(course, LAST3, held=12.5), (ADV, None)),
    "holds on, and does not": (partial(course, LAST3, held=11.5), (STAY, "next_not_shown")),
    "stops at the target": (partial(course, LAST3, held=10.1), (ADV, None)),
    # After a return from a rung: twice the sessions, a quarter of the misses.
    "came back from twelve, three sessions": (
        partial(rising_targets, (20, 10), (12, 12), (3, 10), days=range(20, 0, -1), held=10.2), (STAY, "more_sessions"),
    ),
    "came back from twelve, six sessions": (
        partial(rising_targets, (20, 10), (12, 12), (7, 10), days=range(20, 0, -1), held=10.2), (ADV, None),
    ),
    # Every part of the target in force.
    "the floor raised by 5 dB": (partial(under_another_version, {"floor": 5.0, "ceiling": 15.0}, {"floor": 10.0, "ceiling": 20.0}), (STAY, "more_sessions")),
    "total to steady seconds": (
        partial(under_another_version, {"floor": 5.0, "ceiling": 15.0}, {"floor": 5.0, "ceiling": 15.0, "counts": "steady"}), (STAY, "more_sessions"),
    ),
    "nothing of it changed": (
        partial(under_another_version, {"floor": 5.0, "ceiling": 15.0}, {"floor": 5.0, "ceiling": 15.0}), (ADV, None),
    ),
    "more of it a session is no other target": (
        partial(under_another_version, {"floor": 5.0, "ceiling": 15.0}, {"floor": 5.0, "ceiling": 15.0, "tries": 5}), (ADV, None),
    ),
    # Evidence is used once.
    "taken yesterday, nothing since": (lambda: with_events(course((4, 3, 2)), decide(1, ADV, "most_on_target")), (STAY, None)),
    "refused, three sessions since": (
        lambda: with_events(course((7, 6, 5, 3, 2, 1)), decide(5, ADV, "most_on_target", accepted=False)), (ADV, None),
    ),
    "refused, two sessions since": (
        lambda: with_events(course((7, 6, 5, 2, 1)), decide(5, ADV, "most_on_target", accepted=False)), (STAY, "more_sessions"),
    ),
    "a check in decided on takes nothing of it": (
        lambda: with_events(course((4, 3, 2)), decide(1, IN, "too_tired", task=None)), (ADV, None),
    ),
    "a flag cleared: evidence starts over": (
        lambda: with_events(course((6, 5, 4)), stop(3, "new_pain", pauses=True, cleared=2)), (STAY, None),
    ),
    "a flag open": (lambda: with_events(course(LAST3), stop(1, "new_pain", pauses=True)), (STOP, "red_flag_open")),
    # Ease.
    "a quarter in two sessions": (partial(course, (2, 1), "ynnn", 8.0), (EASE, "few_on_target")),
    "three of eight": (partial(course, (2, 1), lambda d: "yynn" if d > 1 else "ynnn", 8.0), (STAY, None)),
    "half in two sessions": (partial(course, (2, 1), "yynn"), (STAY, None)),
    "one poor day": (lambda: with_events(course(range(20, 1, -1)), lambda made: made.does(1, "nnnn", 8.0)), (STAY, None)),
    "two poor days after eighteen good ones": (
        partial(course, range(20, 0, -1), lambda d: "yyyy" if d > 2 else "ynnn", lambda d: 10.0 if d > 2 else 8.0), (EASE, None),
    ),
    "poor under another target": (partial(rising_targets, (9, 12), (1, 10), days=range(9, 1, -1), held=9.0), (STAY, None)),
    "effort of seven in two sessions": (partial(course, (2, 1), effort=7), (EASE, "effort_high")),
    "effort of seven in one": (partial(course, (2, 1), effort=lambda d: 7 if d == 1 else 3), (STAY, None)),
    "strain twice in a week": (
        lambda: with_events(course(LAST3), say(3, "strain", {"said": True}), say(1, "strain", {"said": True})), (EASE, "strain_said"),
    ),
    "strain eight days apart": (
        lambda: with_events(course(range(9, 0, -1)), say(9, "strain", {"said": True}), say(1, "strain", {"said": True})), (STAY, "strain_lately"),
    ),
    "two sessions stopped for strain": (
        lambda: with_events(course(LAST3), stop(3, "strain", cleared=3), stop(1, "strain", cleared=1)), (EASE, "strain_said"),
    ),
    "one session stopped for light-headedness": (
        lambda: with_events(course(LAST3), stop(1, "light_headed", cleared=1)), (STAY, "strain_lately"),
    ),
    "strain six days ago, refused since": (
        lambda: with_events(
            loud((6, 5, 4, 3, 2, 1)), say(6, "strain", {"said": True}), decide(5, EASE, "strain_said", accepted=False),
        ), (STAY, "strain_lately"),
    ),
    "strain seven days ago": (
        lambda: with_events(loud((7, 5, 4, 3, 2, 1)), say(7, "strain", {"said": True})), (ADV, None),
    ),
    # Swap.
    "cannot, twice": (lambda: with_events(course(LAST3), say(2, "skipped", "cant"), say(1, "skipped", "cant")), (SWAP, "cannot_do_it")),
    "cannot, once": (lambda: with_events(course(LAST3), say(1, "skipped", "cant")), (ADV, None)),
    "cannot, twice, three weeks ago": (
        lambda: with_events(course(range(25, 0, -1), since=26), say(22, "skipped", "cant"), say(21, "skipped", "cant")), (ADV, None),
    ),
    "not felt six times": (partial(felt, *["no"] * 6), (SWAP, "not_felt")),
    "not felt five times": (partial(felt, *["no"] * 5), (STAY, "felt_check")),
    "felt three times": (partial(felt, "yes", "yes", "yes"), (STAY, "top_of_ladder")),
    "felt with effort": (partial(felt, "yes", "yes", "yes", effort=6), (STAY, "effort_too_high")),
    "felt, not sure the last time": (partial(felt, "yes", "yes", "not_sure"), (STAY, "felt_check")),
    # Decline: shorter.
    "a third shorter for a week": (partial(course, WEEKS5, held=lambda d: 15.0 if d > 8 else 10.0, seconds=6), (EC, "holds_shorter")),
    "a third shorter for three days": (partial(course, WEEKS5, held=lambda d: 15.0 if d > 3 else 10.0, seconds=6), (IN, "sinking")),
    "as long as ever, a little more or less": (partial(course, WEEKS5, held=lambda d: 15.0 + d * 7 % 5 / 5, seconds=6), (ADV, None)),
    "shorter for eighteen days": (partial(course, range(60, 0, -1), held=lambda d: 15.0 if d > 20 else 9.0, seconds=6), (LOOK, None)),
    "shorter, decided on yesterday": (
        lambda: with_events(course(WEEKS5, held=lambda d: 15.0 if d > 8 else 10.0, seconds=6), decide(1, EC, "holds_shorter")), (STAY, None),
    ),
    "shorter, and an advance was taken meanwhile": (
        lambda: with_events(course(WEEKS5, held=lambda d: 15.0 if d > 8 else 10.0, seconds=6), decide(4, ADV, "most_on_target")), (EC, None),
    ),
    "shorter, and refused: no advance on the same evidence": (
        lambda: with_events(
            course(WEEKS5, held=lambda d: 15.0 if d > 8 else 10.0, seconds=6), decide(1, EC, "holds_shorter", accepted=False),
        ), (STAY, None),
    ),
    "two in a hundred a week for sixteen weeks": (partial(course, range(112, 0, -1), held=lambda d: 15.0 * 0.98 ** ((112 - d) / 7), seconds=6), (LOOK, None)),
    "twice a week, less than half": (
        partial(course, (34, 31, 27, 24, 20, 17, 13, 10, 6, 3), held=lambda d: 15.0 if d > 6 else 6.0, seconds=5,
                dose={"weekdays": [2, 5]}), (EC, None),
    ),
    "twice a week, as ever": (
        partial(course, (34, 31, 27, 24, 20, 17, 13, 10, 6, 3), held=lambda d: 15.0 + d % 2, seconds=5,
                dose=FREE), (ADV, None),
    ),
    "back after three weeks away, shorter": (partial(course, (*range(60, 25, -1), 4, 3, 2, 1), held=lambda d: 15.0 if d > 25 else 11.0, seconds=6), (None, None)),
    # Decline: more effort, more bother, softer.
    "effort up by two in two sessions": (partial(course, FORTNIGHT, effort=lambda d: 3 if d > 2 else 5), (EC, "effort_up")),
    "effort up by two in one": (partial(course, range(13, 0, -1), effort=lambda d: 3 if d > 1 else 5), (STAY, None)),
    "effort twice up in one session": (
        lambda: with_events(course(range(13, 0, -1), effort=lambda d: 3 if d > 1 else 5), say(1, "effort", 6)), (STAY, None),
    ),
    "effort up to four": (partial(course, FORTNIGHT, effort=lambda d: 1 if d > 2 else 4), (ADV, None)),
    "effort that creeps up": (partial(course, range(24, 0, -1), effort=lambda d: 6 - (d - 1) // 7), (None, None)),
    "in the way more, two weeks running": (lambda: with_events(course(WEEKS5), bother((29, 3), (22, 3), (8, 5), (1, 5))), (EC, "bother_up")),
    "in the way more, once": (lambda: with_events(course(WEEKS5), bother((22, 3), (15, 3), (1, 6))), (ADV, None)),
    "in the way more, five weeks ago": (
        lambda: with_events(course(range(50, 0, -1)), bother((49, 3), (42, 3), (38, 6), (35, 6))), (ADV, None),
    ),
    "loud, effort down by two": (partial(loud, FORTNIGHT, effort=lambda d: 9 if d > 2 else 7), (CALL, "effort_down")),
    "loud, effort down by one": (partial(loud, FORTNIGHT, effort=lambda d: 9 if d > 2 else 8), (ADV, None)),
    # Check in.
    "three due days missed": (partial(course, (7, 6, 5, 4), "yyyn"), (IN, "days_missed")),
    "two due days missed": (partial(course, (6, 5, 4, 3), "yyyn"), (STAY, None)),
    "half of a fortnight": (partial(course, range(13, 0, -2), "yyyn", since=14), (IN, "adherence_low")),
    "two thirds of a fortnight": (partial(course, [d for d in FORTNIGHT if d % 3], "yyyn"), (STAY, None)),
    "asked a week ago": (
        lambda: with_events(course(range(13, 0, -2), "yyyn", since=14), decide(7, IN, "adherence_low", task=None)), (STAY, None),
    ),
    "too tired in five of ten": (
        lambda: with_events(course(range(10, 0, -1), "yyyn"), *(say(d, "skipped", "tired") for d in range(5, 0, -1))), (IN, "too_tired"),
    ),
    "too tired in four of ten": (
        lambda: with_events(course(range(10, 0, -1), "yyyn"), *(say(d, "skipped", "tired") for d in range(4, 0, -1))), (STAY, None),
    ),
    "too tired, asked about yesterday": (
        lambda: with_events(
            course(range(10, 0, -1), "yyyn"), *(say(d, "skipped", "tired") for d in range(9, 1, -1)),
            decide(2, IN, "too_tired", task=None),
        ), (STAY, None),
    ),
    "ill for eight days, rest logged daily": (partial(resting, rests=range(8, 0, -1)), (STAY, "absent")),
    "ill for five": (partial(resting, rests=range(5, 0, -1), days=range(20, 5, -1)), (ADV, None)),
    # Trials that could not be judged.
    "nothing judged in three sessions": (partial(course, LAST3, "????"), (IN, "nothing_judged")),
    "nothing judged in two": (partial(course, (2, 1), "????"), (STAY, None)),
    "a noisy room: whole holds not judged, short ones missed": (
        partial(course, (5, 4, 3, 2, 1), "??nn"), (IN, "much_not_judged"),
    ),
    "a third not judged": (partial(course, (2, 1), "nnnn??", 8.0, prescribed=6), (EASE, None)),
    "noisy, asked about yesterday": (
        lambda: with_events(course((5, 4, 3, 2), "??nn"), decide(1, IN, "much_not_judged")), (STAY, None),
    ),
    # Every stalled client is reported.
    "two weeks well done, effort never asked": (partial(course, FORTNIGHT, effort=None), (IN, "effort_not_asked")),
    "thirteen days of it": (partial(course, range(13, 0, -1), effort=None), (STAY, "effort_not_asked")),
    "two weeks well done, at effort five": (partial(course, FORTNIGHT, effort=5), (IN, "effort_too_high")),
    "two weeks at the top": (partial(course, FORTNIGHT, held=46.0, seconds=45), (IN, "top_of_ladder")),
    "three days at the top": (partial(course, LAST3, held=46.0, seconds=45), (STAY, "top_of_ladder")),
    "at the hold goal": (partial(course, LAST3, held=24.0, seconds=20, task="hum_hold", goal_s=20.0), (STAY, "at_its_goal")),
    "a second under it": (partial(course, LAST3, held=24.0, seconds=18, task="hum_hold", goal_s=20.0), (ADV, None)),
    "stalled, asked about a week ago": (
        lambda: with_events(course(FORTNIGHT, effort=5), decide(7, IN, "effort_too_high")), (STAY, "effort_too_high"),
    ),
    "two thirds for four weeks": (partial(course, MONTH, "yyn", prescribed=3), (IN, "stuck")),
    "two thirds for four weeks less a day": (partial(course, range(27, 0, -1), "yyn", prescribed=3), (STAY, "between")),
    "as asked, twice in three weeks": (
        partial(course, (40, 31, 20, 11, 2), dose={"weekdays": [1]}), (IN, None),
    ),
    # The taper: only safety and its own steps.
    "92 % of the peak, target missed": (partial(taper, 3, 8, 33.0, range(8, 0, -1)), ("taper_on", "peak_kept")),
    "84 % of the peak": (partial(taper, 3, 8, 30.2, range(8, 0, -1)), ("taper_back", "peak_lost")),
    "86 % of the peak": (partial(taper, 3, 8, 31.0, range(8, 0, -1)), ("taper_on", None)),
    "before its week is over": (partial(taper, 3, 5, 33.0, range(5, 0, -1)), (STAY, "in_taper")),
    "after the seventh week": (partial(taper, 7, 8, 35.0, range(8, 0, -1)), ("maintain", "peak_kept")),
    "cannot, in the taper": (
        lambda: with_events(taper(3, 5, 33.0, range(5, 0, -1)), *(lambda made, d=d: made.says(d, "skipped", "cant", task=2) for d in (2, 1))),
        (STAY, "in_taper"),
    ),
    "strain twice in the taper": (
        lambda: with_events(taper(3, 5, 33.0, range(5, 0, -1)), *(lambda made, d=d: made.says(d, "strain", {"said": True}, task=2) for d in (2, 1))),
        (IN, "strain_said"),
    ),
    # Speech.
    "lines with a level, all met": (
        partial(course, LAST3, "yyyyyyyy", None, task="functional_phrases", seconds=None, effort=8.5, prescribed=8,
                fields={"floor": 5.0, "ceiling": 15.0}), (ADV, "most_on_target"),
    ),
    "lines with a level, half missed": (
        partial(course, LAST3, "yynnyynn", None, task="functional_phrases", seconds=None, effort=8.5, prescribed=8,
                fields={"floor": 5.0, "ceiling": 15.0}), (STAY, "between"),
    ),
    # Nothing yet.
    "prescribed today": (partial(course, (), since=0), (STAY, "not_begun")),
    "first session yesterday": (partial(course, (1,)), (STAY, "more_sessions")),
}  # fmt: skip


@pytest.mark.parametrize(("made", "wanted"), TABLE.values(), ids=TABLE)
def test_the_decision_for_each_synthetic_course(made, wanted, tmp_path, capsys):
    step, reason, *_ = made().decided(tmp_path, capsys)
    assert step in STEPS
    assert wanted[0] in (None, step)
    assert wanted[1] in (None, reason)


def test_there_are_enough_pieces():
    assert len(TABLE) >= 120
