"""Ninety days behind the people of the harbour: made up, a story each, as anchors between which the
figures wander. Days are days before today.
"""

from dataclasses import dataclass

#: (days ago, value); values in between are interpolated.
Line = tuple[tuple[int, float], ...]


@dataclass(frozen=True)
class Story:
    """A course of practice.

    Attributes:
        tasks: the items, (task, notes); the first one is the one that the story is about.
        targets: (from days ago, seconds) of the first task; each step is a version of its own.
        held: seconds held in it.
        effort: bodily effort after it.
        keeps: the share of due sessions that are done, so that some are missed.
        until: the last practised day.
        note_cents: how far from the note.
        shaky_cents: how unsteady.
        bother: the weekly question.
        taper: (from days ago, week, of) the taper's steps.
        cannot: days on which the second task was skipped, "can't do it".
        strained: days with reported strain.
        noisy: days from which on the room was too loud to judge.
        stopped: (days ago, flags, comment) of a stop.
        new_device: days ago from which another device was used.
        helper: name and relation of a helper present in each third session.
    """

    code: str
    tasks: tuple[tuple[str, tuple[int, ...]], ...]
    targets: tuple[tuple[int, float], ...]
    held: Line
    effort: Line
    school: str = "soft"
    a_day: int = 1
    weekdays: tuple[int, ...] = (0, 1, 2, 3, 4, 5)
    keeps: float = 0.93
    until: int = 1
    note_cents: Line = ((90, -20.0), (0, -6.0))
    shaky_cents: Line = ((90, 22.0), (0, 11.0))
    bother: Line = ((90, 6.0), (0, 3.0))
    taper: tuple[tuple[int, int], ...] = ()
    peak_s: float = 0.0
    goal_s: float | None = None
    maintenance_since: int | None = None
    cannot: tuple[int, ...] = ()
    strained: tuple[int, ...] = ()
    noisy: int | None = None
    stopped: tuple[int, tuple[str, ...], str] | None = None
    new_device: int | None = None
    level_db: Line = ()
    helper: tuple[str, str] | None = None


STRAW, HUM, POWER, STRONG = "straw_hold", "hum_hold", "block_power", "strong_ah"
_BLOCK_BASS = ((POWER, (48, 50, 52, 53, 55)), ("block_warm_up", (53,)))
_BLOCK_TREBLE = ((POWER, (60, 62, 64, 65, 67)), ("block_warm_up", (65,)))

STORIES = (
    # Steady progress: five rungs in twelve weeks, the next one is due.
    Story("alto-e4a", ((HUM, (64,)), (STRAW, (64,))),
          ((90, 6.0), (68, 7.5), (49, 9.0), (30, 10.5), (12, 12.0)),
          held=((90, 5.6), (70, 7.0), (50, 9.0), (31, 10.6), (12, 12.4), (0, 14.0)),
          effort=((90, 5.0), (40, 4.0), (0, 2.6)), new_device=40),
    # Declining: a fifth shorter and more effortful.
    Story("gavel-b2", ((HUM, (47,)), (STRAW, (47,))), ((90, 10.0), (60, 12.0), (24, 13.5)),
          held=((90, 10.2), (60, 12.6), (20, 14.4), (8, 14.2), (6, 11.2), (0, 10.6)),
          effort=((90, 4.0), (9, 4.0), (6, 6.2), (0, 6.8)), bother=((90, 5.0), (14, 3.0), (0, 4.0))),
    # A red flag: stopped last night.
    Story("swim-g4", ((HUM, (67,)), (STRAW, (67,))), ((80, 8.0), (52, 10.0)),
          held=((80, 7.8), (50, 10.2), (0, 10.8)), effort=((80, 4.0), (4, 4.0), (0, 5.5)),
          stopped=(1, ("new_pain",), "It stings on the left when I hold the note.")),
    # A plateau: six weeks of good practice without progress.
    Story("loft-c3", ((HUM, (48,)), (STRAW, (48,))), ((88, 8.0), (60, 10.0), (42, 12.0)),
          held=((88, 8.1), (60, 10.3), (42, 12.1), (0, 12.1)), effort=((88, 5.0), (0, 4.4))),
    # No longer practises.
    Story("ferry-d3", ((HUM, (50,)), (STRAW, (50,))), ((70, 7.0), (26, 8.0)),
          held=((70, 7.0), (40, 8.1), (0, 8.1)), effort=((70, 4.0), (0, 4.0)), until=6),
    # Tapering: week 3 of 7, the hold is kept, the next step is due.
    Story("lens-d4", _BLOCK_TREBLE, ((90, 14.0), (66, 18.0), (45, 22.0)),
          held=((90, 13.0), (60, 20.0), (28, 25.4), (0, 24.8)), effort=((90, 4.0), (0, 2.2)),
          goal_s=24.0, taper=((23, 1), (16, 2), (8, 3)), peak_s=25.4),
    # Relapse in the taper: under 85 % of the peak in week 4.
    Story("rope-c3", _BLOCK_BASS, ((90, 13.0), (64, 16.0)),
          held=((90, 12.0), (62, 18.0), (40, 23.0), (31, 21.4), (17, 20.6), (9, 20.0), (0, 18.6)),
          effort=((90, 4.0), (0, 3.4)), goal_s=20.0, taper=((31, 1), (24, 2), (17, 3), (9, 4)),
          peak_s=23.0),
    # Swap: cannot do the tongue trill.
    Story("oars-a2", ((HUM, (45,)), ("tongue_trill_hold", ())), ((40, 6.0), (15, 7.0)),
          held=((40, 5.8), (15, 7.1), (0, 7.1)), effort=((40, 4.0), (0, 4.0)), cannot=(4, 2)),
    # Strong voice training, ready for the next rung.
    Story("tower-a2", ((STRONG, ()), ("strong_oh", ())), ((84, 8.0), (56, 9.0), (27, 10.0)),
          held=((84, 8.6), (56, 9.8), (27, 10.9), (0, 13.6)),
          effort=((84, 7.0), (40, 8.2), (0, 8.6)), school="loud", weekdays=(0, 1, 2, 3, 4),
          bother=((84, 7.0), (0, 3.0)), level_db=((84, 6.0), (0, 8.5)), helper=("Ada", "daughter")),
    # A poor microphone: nothing could be judged for two weeks.
    Story("choir-f4", ((HUM, (65,)), (STRAW, (65,))), ((60, 8.0), (26, 9.0)),
          held=((60, 8.2), (38, 9.1), (0, 9.2)), effort=((60, 4.0), (0, 3.6)), noisy=16),
    # The block is complete: two practised days above the goal.
    Story("bell-c3", _BLOCK_BASS, ((86, 14.0), (58, 18.0), (27, 21.0)),
          held=((86, 13.0), (56, 18.6), (20, 22.0), (5, 23.8), (4, 24.6), (0, 25.2)),
          effort=((86, 4.0), (0, 2.4)), goal_s=24.4),
    # Strain after loud work.
    Story("horn-b2", ((STRONG, ()), ("strong_oh", ())), ((50, 7.0), (24, 8.0)),
          held=((50, 7.4), (24, 8.6), (0, 8.8)), effort=((50, 7.6), (0, 8.8)), school="loud",
          weekdays=(0, 1, 2, 3, 4), strained=(3, 2), level_db=((50, 7.0), (0, 8.0))),
    # Open-ended maintenance.
    Story("quay-e3", ((HUM, (52,)), (STRAW, (52,))), ((90, 12.0),),
          held=((90, 12.2), (0, 12.2)), effort=((90, 3.0), (0, 2.5)), weekdays=(1, 4),
          maintenance_since=55, bother=((90, 2.0), (0, 2.0))),
    # Three weeks in, on course.
    Story("kite-g3", ((HUM, (55,)), (STRAW, (55,))), ((20, 6.0),),
          held=((20, 5.4), (0, 6.3)), effort=((20, 5.0), (0, 4.5)), note_cents=((20, -24.0), (0, -12.0))),
    # Half of the due sessions.
    Story("mast-d3", ((HUM, (50,)), (STRAW, (50,))), ((75, 8.0), (27, 9.0)),
          held=((75, 8.0), (27, 9.1), (0, 9.1)), effort=((75, 4.0), (0, 4.5)), keeps=0.45),
    # One task advanced last week; the other has had the same target for two months.
    Story("sail-a3", ((HUM, (57,)), (STRAW, (57,))), ((62, 7.0), (33, 8.0), (6, 9.0)),
          held=((62, 6.8), (33, 8.6), (6, 9.2), (0, 9.2)), effort=((62, 5.0), (0, 3.6))),
    # Too much effort for a soft task.
    Story("wharf-c3", ((HUM, (48,)), (STRAW, (48,))), ((58, 9.0), (26, 10.5)),
          held=((58, 9.2), (26, 10.7), (0, 10.7)), effort=((58, 5.5), (10, 6.8), (0, 7.4)),
          shaky_cents=((58, 26.0), (0, 24.0))),
    # Bother from the voice grows each week.
    Story("dune-e4", ((HUM, (64,)), (STRAW, (64,))), ((66, 8.0), (20, 9.0)),
          held=((66, 8.0), (20, 9.1), (0, 9.2)), effort=((66, 4.0), (0, 4.2)),
          bother=((66, 4.0), (7, 3.0), (0, 6.0))),
)  # fmt: skip
