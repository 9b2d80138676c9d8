"""A trial in detail: pitch against the note, level, breaks and target."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from math import isfinite
from statistics import median
from typing import Any

from django.utils.safestring import SafeString
from django.utils.translation import gettext

from reedcore.formats.trace import STEP_S, unpack_trace
from reedcore.measures import kind_of
from web.practice.presenters import cents_from_note
from web.practice.result_words import result_sentence
from web.record.models import Trial
from web.record.programmes import note_name
from web.sound.wording import reasons
from web.ui.marked import Words, gettext_noop

from .session_table import step_rows

WIDTH, LEFT, RIGHT = 700, 52, 692
#: Positions of the pitch lane, the level lane and the time axis.
PITCH = (14, 134)
LEVEL = (158, 208)
GROUND = 214
MOST_CENTS, BAND_CENTS = 120.0, 50.0
#: Duration of one table row, seconds.
ROW_S = 0.5
#: Maximum smoothing of the drawn trace.
SMOOTH_S = 0.060


@dataclass(frozen=True)
class TrialDetail:
    """The drawing and the table of a trial; the drawing is None without a trace."""

    trial: Trial
    sentence: str
    note: str | None
    reasons: list[str]
    picture: TrialPicture | None
    rows: list[tuple[str, str, str]]
    also: list[tuple[str, str]]

    @property
    def step_rows(self) -> SafeString:
        """Return the rows of the table."""
        return step_rows(self.rows)


@dataclass(frozen=True)
class TrialPicture:
    """Path data and places, in the picture's own units."""

    band: tuple[float, float]
    middle: float
    pitch: str
    level: str
    level_ends: tuple[str, str]
    breaks: list[tuple[float, float]]
    target_x: float | None
    ticks: list[tuple[float, str]]
    spoken: str
    width: int = WIDTH
    left: int = LEFT
    right: int = RIGHT
    pitch_top: int = PITCH[0]
    pitch_bottom: int = PITCH[1]
    level_top: int = LEVEL[0]
    level_bottom: int = LEVEL[1]
    ground: int = GROUND

    @property
    def band_height(self) -> float:
        """Return the height of the ±50 cents band."""
        return round(self.band[1] - self.band[0], 1)


def trial_detail(trial: Trial) -> TrialDetail:
    """Return the details of one trial."""
    note = note_name(trial.task)
    trace = getattr(trial, "trace", None)
    picture: TrialPicture | None = None
    rows: list[tuple[str, str, str]] = []
    if trace is not None:
        kept = unpack_trace(bytes(trace.packed))
        levels = [value if isfinite(value) else None for value in kept.level_dbfs.tolist()]
        cents = [
            value if isfinite(value) else None
            for value in cents_from_note(kept.cents.tolist(), trial.task)
        ]
        picture = _picture(trial, cents, levels, note)
        rows = _rows(cents, levels)
    return TrialDetail(
        trial=trial,
        sentence=result_sentence(trial, note_name=note),
        note=note,
        reasons=list(reasons(trial.reasons, is_hold=kind_of(trial.task.measure).can_be_steady)),
        picture=picture,
        rows=rows,
        also=_extra_figures(trial),
    )


#: Further figures of a hold: name, unit, decimals.
_ALSO = Words(
    {
        "level_sd_db": (gettext_noop("level variation"), "dB", 1),
        "end_fall_db": (gettext_noop("fall at the end"), "dB", 1),
        "rise_db": (gettext_noop("swell"), "dB", 1),
        "fall_db": (gettext_noop("fade"), "dB", 1),
        "cepstral_peak_db": (gettext_noop("cepstral peak prominence"), "dB", 1),
        # Stored before the method matched published values.
        "cpps_db": (gettext_noop("cepstral peak prominence, earlier method"), "dB", 1),
        "jitter_percent": (gettext_noop("jitter, local"), "%", 2),
        "shimmer_percent": (gettext_noop("shimmer, local"), "%", 1),
        "hnr_db": (gettext_noop("harmonics-to-noise ratio"), "dB", 1),
        "ltas_slope_db": (gettext_noop("average spectrum, 1–4 kHz over 0–1 kHz"), "dB", 1),
        "ltas_tilt_db_per_octave": (
            gettext_noop("average spectrum, tilt"),
            gettext_noop("dB an octave"),
            1,
        ),
        "alpha_ratio_db": (gettext_noop("alpha ratio, 1–5 kHz over 0–1 kHz"), "dB", 1),
        "phonation_ratio": (gettext_noop("phonation ratio"), "", 2),
        "syllables_per_s": (
            gettext_noop("articulation rate"),
            gettext_noop("syllables a second"),
            1,
        ),
        "tremor_hz": (gettext_noop("tremor"), "Hz", 1),
        "tremor_cents": (gettext_noop("tremor, half peak to peak"), gettext_noop("cents"), 0),
        "onset_rise_ms": (gettext_noop("onset, 10 to 90 %"), "ms", 0),
        "voiced_share": (gettext_noop("voiced share"), "", 2),
        "load_s": (gettext_noop("voicing"), "s", 1),
        "cycles": (gettext_noop("vibrations"), "", 0),
        "circles": (gettext_noop("times up and down"), "", 0),
        "z_hz": (gettext_noop("pitch of the “z”"), "Hz", 1),
        "z_onset_ms": (gettext_noop("onset of the “z”, 10 to 90 %"), "ms", 0),
        "round": (gettext_noop("round of the pattern"), "", 0),
        "late_ms": (gettext_noop("start after the beat"), "ms", 0),
        "breaths_inside": (gettext_noop("breaths inside"), "", 0),
    }
)


def _extra_figures(trial: Trial) -> list[Any]:
    """Return further measured figures that only this page shows."""
    figures = trial.figures or {}
    return [
        (name, f"{figures[code]:.{places}f}".replace("-", "−") + (f" {unit}" if unit else ""))
        for code, (name, unit, places) in _ALSO.items()
        if figures.get(code) is not None
    ]


def _picture(trial: Trial, cents: list[Any], levels: Any, note: str | None) -> TrialPicture:
    seconds = max(len(cents) * STEP_S, trial.total_s or 0.0, trial.asked_s or 0.0) * 1.04 or 1.0
    across = (RIGHT - LEFT) / seconds

    def x(at: Any) -> Any:
        return round(LEFT + at * across, 1)

    def y(value: Any) -> Any:
        clipped = max(-MOST_CENTS, min(MOST_CENTS, value))
        return PITCH[1] - (clipped + MOST_CENTS) * (PITCH[1] - PITCH[0]) / (2 * MOST_CENTS)

    gaps = [(gap["start_s"], gap["end_s"]) for gap in trial.breaks]
    loud = [value for value in levels if value is not None]
    low, high = (min(loud), max(loud)) if loud else (0.0, 0.0)
    span = max(high - low, 6.0)

    def up(value: Any) -> Any:
        return LEVEL[1] - (value - low) * (LEVEL[1] - LEVEL[0]) / span

    every = 1 if seconds < 8 else 5
    return TrialPicture(
        band=(round(y(BAND_CENTS), 1), round(y(-BAND_CENTS), 1)),
        middle=round(y(0.0), 1),
        pitch=_line(cents, x, y, gaps),
        level=_line(levels, x, up, []),
        level_ends=(f"{low:.0f}".replace("-", "−"), f"{low + span:.0f}".replace("-", "−"))
        if loud
        else ("", ""),
        breaks=[(x(start), max(3.0, round((end - start) * across, 1))) for start, end in gaps],
        target_x=x(trial.asked_s)
        if trial.asked_s and not kind_of(trial.task.measure).is_by_line
        else None,
        ticks=[(x(second), f"{second} s") for second in range(0, int(seconds) + 1, every)],
        spoken=f"{_axes_words(note)} {result_sentence(trial, note_name=note)}",
    )


def _axes_words(note: str | None) -> str:
    if note:
        return gettext("Pitch against {note} and level over time.").format(note=note)
    return gettext("Pitch against its own median and level over time.")


def _line(values: list[Any], x: Callable[..., Any], y: Any, gaps: Any) -> str:
    """Return medians of 60 ms, interrupted where the pitch is unknown and where the voice broke."""
    width = max(1, round(SMOOTH_S / STEP_S))
    parts, down = [], False
    for first in range(0, len(values), width):
        known = [value for value in values[first : first + width] if value is not None]
        at = (first + width / 2) * STEP_S
        if not known or any(start <= at <= end for start, end in gaps):
            down = False
            continue
        parts.append(f"{'L' if down else 'M'}{x(at)} {y(median(known)):.1f}")
        down = True
    return "".join(parts)


def _rows(cents: list[Any], levels: Any) -> list[tuple[str, str, str]]:
    """Return half seconds, each the median of its known values."""
    width = round(ROW_S / STEP_S)
    return [
        (
            f"{first * STEP_S:.1f}",
            _median_words(cents[first : first + width], "{:+.0f}"),
            _median_words(levels[first : first + width], "{:.1f}"),
        )
        for first in range(0, len(cents), width)
    ]


def _median_words(values: list[Any], form: str) -> str:
    known = [value for value in values if value is not None]
    return form.format(median(known)).replace("-", "−") if known else "–"
