"""The constants of the measuring, each with its reason, in one place."""

from __future__ import annotations

#: Everything except the level is measured at this rate; 8 kHz of bandwidth hold voice and hiss.
WORKING_RATE_HZ = 16_000
LOWEST_RATE_HZ, HIGHEST_RATE_HZ = 8_000, 96_000

#: One frame every 10 ms (definition).
HOP_S = 0.010
HOP = round(HOP_S * WORKING_RATE_HZ)
#: 2.5 periods of the lowest voice in the search range.
WINDOW_S = 0.040
WINDOW = round(WINDOW_S * WORKING_RATE_HZ)
#: Zero padding for the longest lag, so that the correlation does not wrap round.
FFT_SIZE = 1024

LOWEST_PITCH_HZ, HIGHEST_PITCH_HZ = 50.0, 1300.0

#: Energy is summed in steps of 5 ms: 25 make one 125 ms level window (definition).
ENERGY_STEP_S = 0.005
LEVEL_WINDOW_STEPS = 25

#: Band in which a voice that has lost its pitch is still heard (definition).
VOICE_BAND_HZ = (50.0, 1500.0)
#: Most of a hiss lies above the first; a telephone line removes everything above the second.
HISS_FROM_HZ = 2000.0
TOP_FROM_HZ = 4000.0

#: A hold ends at the last sounding instant before this long without pitch or roughness.
HOLD_GAP_S = 0.400
#: Rough or broken: maximum distance of the voice band below the median of the hold (definition).
BREAK_DEPTH_DB = 10.0
BREAK_SHORTEST_S, BREAK_LONGEST_S = 0.030, 0.400

#: Trimmed from each end before steadiness is measured (definition).
EDGE_TRIM_S = 0.250
#: A voice nearer to the room level cannot be separated from it.
ABOVE_FLOOR_DB = 6.0

#: Signal-to-noise gates (definition): below, level is not judged; below, spread is not judged.
LEVEL_NEEDS_SNR_DB = 10.0
SPREAD_NEEDS_SNR_DB = 20.0
