"""A measured recording as a table that a person can read."""

from __future__ import annotations

from math import isfinite

from reedcore.acoustics import Analysis, Hold, Quality

UNKNOWN = "–"
HEADINGS = ("", "from", "to", "held s", "steady s", "pitch Hz", "off c", "spread c", "level dBFS",
            "slope dB/s", "breaks", "tremor", "CPPS dB")  # fmt: skip


def table(analysis: Analysis, *, file: str) -> str:
    """Return several lines, the file's name first."""
    quality = analysis.quality
    reasons = ", ".join(reason.value.replace("_", " ") for reason in quality.reasons) or "good"
    lines = [
        f"{file}: {analysis.duration_s:.2f} s at {analysis.sample_rate_hz} Hz; "
        f"signal-to-noise {_figure(quality.snr_db, 0)} dB; {reasons}"
    ]
    if analysis.holds:
        rows = [HEADINGS, *(_row(hold, quality) for hold in analysis.holds)]
        widths = [max(len(row[column]) for row in rows) for column in range(len(HEADINGS))]
        lines += ["  " + "  ".join(map(str.rjust, row, widths)) for row in rows]
    else:
        lines.append("  no hold found")
    return "\n".join(lines + _other_lines(analysis))


def _row(hold: Hold, quality: Quality) -> tuple[str, ...]:
    level, spread = quality.level_judged, quality.spread_judged
    voice = quality.voice_judged
    tremor = f"{hold.tremor.rate_hz:.1f} Hz" if hold.tremor and voice else UNKNOWN
    return (
        hold.kind.value,
        f"{hold.start_s:.2f}",
        f"{hold.end_s:.2f}",
        f"{hold.duration_s:.2f}",
        _figure(hold.steady_s, 2) if quality.steady_judged else UNKNOWN,
        _figure(hold.pitch.median_hz, 2),
        _figure(hold.target_error_cents, 0),
        _figure(hold.pitch.spread_cents, 1) if spread else UNKNOWN,
        _figure(hold.level.mean_dbfs, 1) if level else UNKNOWN,
        _figure(hold.level.slope_db_per_s, 2) if level else UNKNOWN,
        str(len(hold.breaks)),
        tremor,
        _figure(hold.cpps_db, 1) if voice else UNKNOWN,
    )


def _other_lines(analysis: Analysis) -> list[str]:
    lines = []
    if glide := analysis.glide:
        lines.append(
            f"  glide {glide.direction.value.replace('_', ' ')}: {glide.low_hz:.1f}–"
            f"{glide.high_hz:.1f} Hz, {glide.span_semitones:.1f} semitones, {glide.cycles} cycles, "
            f"{len(glide.jumps)} jumps, {len(glide.breaks)} breaks"
        )
    if pair := analysis.s_to_z:
        lines.append(
            f"  s {pair.s_duration_s:.2f} s, z {pair.z_duration_s:.2f} s, gap {pair.gap_s:.2f} s, "
            f"z on {_figure(pair.z_hz, 1)} Hz, onset {_figure(pair.z_onset_rise_ms, 0)} ms"
        )
    if (speech := analysis.speech) and not speech.doubt:
        breaths = (
            f"{len(speech.groups)} breath groups, {speech.breaths_per_min:.0f} a minute"
            if speech.has_clear_pauses
            else f"breath groups {UNKNOWN}"
        )
        lines.append(
            f"  speech: {speech.voiced_s:.1f} s voiced, {breaths}, pitch "
            f"{speech.f0_median_hz:.0f} Hz over {speech.f0_range_semitones:.1f} semitones"
        )
    return lines


def _figure(value: float, places: int) -> str:
    return f"{value:.{places}f}" if isfinite(value) else UNKNOWN
