"""The voice range profile: for how long each semitone was sounded at each level, month by month."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from math import log2
from typing import TYPE_CHECKING, Any

import numpy as np
from django.utils.translation import gettext, gettext_lazy

from reedcore.baseline import PitchRange
from reedcore.formats.trace import STEP_S, unpack_trace
from reedcore.history import device_named
from reedcore.pitch import Note, Spelling
from reedcore.progress import RangeProfile, range_profile_of
from reedcore.progress.range_profile import FRAME_S
from web.baseline.summaries import summary_of
from web.record.models import Trace
from web.ui.dates import month_of_year

if TYPE_CHECKING:
    from web.clients.models import Client

WIDTH, LEFT, RIGHT, TOP, GROUND = 1216, 64, 1200, 16, 392
HEIGHT = 470
#: Cells visited for a shorter time are tracking errors.
LEAST_CELL_S = 0.05
#: Density steps, in seconds.
DENSITIES = (0.2, 1.0, 5.0, 20.0, 60.0)
#: Outlines of more months would overlap.
OUTLINES = 4
LEAST_NOTES, LEAST_DB = 24, 30
UNNAMED = gettext_lazy("unnamed device")


@dataclass(frozen=True)
class Cell:
    x: float
    y: float
    wide: float
    high: float
    step: int
    title: str


@dataclass(frozen=True)
class Outline:
    month: str
    path: str
    place: int


@dataclass(frozen=True)
class NoteLine:
    """A note of the table: how long, how soft, how loud."""

    note: str
    seconds: float
    softest: int
    loudest: int


@dataclass(frozen=True)
class NoteSpan:
    """A range of pitch, or a speaking pitch, drawn under the notes."""

    name: str
    x: float
    wide: float
    y: float
    words: str

    @property
    def words_x(self) -> float:
        """Return the x after its end, so that no text covers a bar."""
        return round(self.x + self.wide + 8, 1)


@dataclass(frozen=True)
class Field:
    """Everything the page shows of one device."""

    cells: list[Cell]
    outlines: list[Outline]
    notes: list[tuple[float, str]]
    levels: list[tuple[float, str]]
    spans: list[NoteSpan]
    table: list[NoteLine]
    months: list[tuple[str, float, int]]
    total_s: float
    unit: str
    spoken: str
    width: int = WIDTH
    height: int = HEIGHT
    left: int = LEFT
    right: int = RIGHT
    top: int = TOP
    ground: int = GROUND

    @property
    def short_unit(self) -> str:
        """Return dB, or dBFS without a comfortable voice to compare with."""
        return self.unit.split()[0]


@dataclass(frozen=True)
class SoundedNote:
    """The profiles of one device by month, on one scale of levels."""

    device: str
    unit: str
    months: dict[date, RangeProfile]


def measured_by_device(client: Client) -> list[SoundedNote]:
    """Return every trace of the client; devices are never mixed, the one used last comes first."""
    rows = (
        Trace.objects.filter(trial__client=client)
        .exclude(trial__role="poor")
        .order_by("trial__performed_at")
        .values_list(
            "packed", "trial__performed_at", "trial__capture", "trial__level_mean_dbfs",
            "trial__level_db",
        )
    )  # fmt: skip
    gathered, references, used = defaultdict(list), {}, {}
    for packed, at, capture, mean_dbfs, level_db in rows:
        device = device_named(capture) or str(UNNAMED)
        used[device] = at
        gathered[device].append((at.astimezone(client.zone).date().replace(day=1), packed))
        if mean_dbfs is not None and level_db is not None:
            references[device] = mean_dbfs - level_db
    found = []
    for device, traces in gathered.items():
        months: dict[date, RangeProfile] = {}
        for month, packed in traces:
            profile = _profile(packed, references.get(device, 0.0), client.clinic.a4_hz)
            months[month] = months[month].merge(profile) if month in months else profile
        unit = (
            gettext("dB relative to the comfortable voice")
            if device in references
            else gettext("dBFS as recorded")
        )
        found.append(SoundedNote(device, unit, months))
    return sorted(found, key=lambda each: used[each.device], reverse=True)


def _profile(packed: Any, reference_dbfs: float, a4_hz: float) -> RangeProfile:
    trace = unpack_trace(bytes(packed))
    hz = 440.0 * 2.0 ** (trace.cents / 1200.0)
    levels = trace.level_dbfs - reference_dbfs
    return range_profile_of(hz, levels, a4_hz=a4_hz, frames_each=round(STEP_S / FRAME_S))


def profile_of(played: SoundedNote, client: Client) -> Field | None:
    """Return the drawing of one device; None without a long enough cell."""
    whole = RangeProfile()
    for profile in played.months.values():
        whole = whole.merge(profile)
    kept = [
        (cell, count * FRAME_S) for cell, count in whole.cells if count * FRAME_S >= LEAST_CELL_S
    ]
    if not kept:
        return None
    spelling = Spelling(client.spelling)
    notes = [note for (note, _), _ in kept]
    levels = [level for (_, level), _ in kept]
    low, high = _widen_to(min(notes), max(notes), LEAST_NOTES)
    quiet, loud = _widen_to(min(levels), max(levels), LEAST_DB)
    wide = (RIGHT - LEFT) / (high - low + 1)
    tall = (GROUND - TOP) / (loud - quiet + 1)

    def x(note: Any) -> Any:
        return round(LEFT + (note - low) * wide, 1)

    def y(level: Any) -> Any:
        return round(GROUND - (level - quiet + 1) * tall, 1)

    cells = [
        Cell(
            x(note),
            y(level),
            round(wide - 1, 1),
            round(tall - 0.5, 1),
            _step(seconds),
            gettext("{spelling}, {signed} dB: {time}").format(
                spelling=Note(note).name(spelling), signed=_signed_level(level), time=_time(seconds)
            ),
        )
        for (note, level), seconds in kept
    ]
    outlines = [
        Outline(month_of_year(month), _outline(profile, x, y, wide, tall), place)
        for place, (month, profile) in enumerate(sorted(played.months.items())[-OUTLINES:])
    ]
    every = 1 if high - low < 30 else 2
    table = _table(kept, spelling)
    return Field(
        cells=cells,
        outlines=[each for each in outlines if each.path],
        notes=[
            (round(x(note) + wide / 2, 1), Note(note).name(spelling))
            for note in range(low, high + 1, every)
        ],
        levels=[
            (round(y(level) + tall / 2, 1), _signed_level(level))
            for level in range(quiet, loud)
            if level % 6 == 0
        ],
        spans=_spans(client, low, high, wide),
        table=table,
        months=[
            (month_of_year(month), profile.total_s, len(profile.outline(least_s=LEAST_CELL_S)))
            for month, profile in sorted(played.months.items())
        ],
        total_s=whole.total_s,
        unit=played.unit,
        spoken=gettext(
            "{time} of voice on {table} notes, from {note} to {note_2}, {signed} to {signed_2} dB."
        ).format(
            time=_time(whole.total_s),
            table=len(table),
            note=table[0].note,
            note_2=table[-1].note,
            signed=_signed_level(min(levels)),
            signed_2=_signed_level(max(levels)),
        ),
    )


def _widen_to(lowest: int, highest: int, span: int) -> tuple[int, int]:
    """Return a little room around, and never so little that one cell fills the picture."""
    more = max(2, (span - (highest - lowest)) // 2)
    return lowest - more, highest + more


def _step(seconds: float) -> int:
    return int(np.searchsorted(DENSITIES, seconds))


def _outline(
    profile: RangeProfile, x: Callable[..., Any], y: Callable[..., Any], wide: float, tall: float
) -> str:
    """Return the path around the cells of a month: along the loudest, back along the softest."""
    outline = profile.outline(least_s=LEAST_CELL_S)
    if len(outline) < 2:
        return ""
    up = [f"{x(note) + wide / 2:.1f} {y(loudest):.1f}" for note, _, loudest in outline]
    back = [f"{x(note) + wide / 2:.1f} {y(softest) + tall:.1f}" for note, softest, _ in outline]
    return "M" + "L".join([*up, *reversed(back)]) + "Z"


def _table(kept: list[tuple[tuple[int, int], float]], spelling: Spelling) -> list[NoteLine]:
    by_note = defaultdict(list)
    for (note, level), seconds in kept:
        by_note[note].append((level, seconds))
    return [
        NoteLine(
            Note(note).name(spelling),
            sum(seconds for _, seconds in found),
            min(level for level, _ in found),
            max(level for level, _ in found),
        )
        for note, found in sorted(by_note.items())
    ]


def _spans(client: Client, low: int, high: int, wide: float) -> list[Any]:
    """Glide, held and comfortable range of the newest sheet: three things, shown apart."""
    sheet = client.baselines.order_by("-begun_at").prefetch_related("trials").first()
    if sheet is None:
        return []
    found = summary_of(sheet)
    rows = (
        (gettext("glide range"), found.glide_range),
        (gettext("held range"), found.held_range),
        ("comfortable", found.comfortable_range),
    )
    spans: list[Any] = []
    for name, span in rows:
        if span is not None:
            spans.append(_span(name, span, low, high, wide, GROUND + 30 + 16 * len(spans), client))
    return spans


def _span(
    name: Any, span: PitchRange, low: Any, high: Any, wide: Any, y: Any, client: Client
) -> Any:
    a4 = client.clinic.a4_hz
    ends = [69 + 12 * log2(hz / a4) for hz in (span.low_hz, span.high_hz)]
    shown = [max(low - 0.5, min(high + 0.5, end)) for end in ends]
    names = [Note(round(end)).name(Spelling(client.spelling)) for end in ends]
    start = LEFT + (shown[0] - low + 0.5) * wide
    return NoteSpan(
        name,
        round(start, 1),
        round((shown[1] - shown[0]) * wide, 1),
        y,
        gettext("{value} to {value_2}").format(value=names[0], value_2=names[1]),
    )


def _signed_level(level: int) -> str:
    return f"{level:+d}".replace("-", "−") if level else "0"


def _time(seconds: float) -> str:
    if seconds < 90:
        return f"{seconds:.1f} s"
    return gettext("{seconds:.0f} min").format(seconds=seconds / 60)
