"""The constants of the measuring, each with its reason, in one place."""

from __future__ import annotations

#: Everything but the level is measured at this rate; 8 kHz of bandwidth hold voice and hiss alike.
WORKING_RATE_HZ = 16_000
LOWEST_RATE_HZ, HIGHEST_RATE_HZ = 8_000, 96_000

#: One frame every 10 ms (definition).
HOP_S = 0.010
HOP = round(HOP_S * WORKING_RATE_HZ)
#: Two and a half periods of the lowest voice searched for.
WINDOW_S = 0.040
WINDOW = round(WINDOW_S * WORKING_RATE_HZ)
#: Room for the longest lag beyond the window, so that correlation does not wrap round.
FFT_SIZE = 1024

LOWEST_PITCH_HZ, HIGHEST_PITCH_HZ = 50.0, 1300.0

#: Energy is summed in steps of 5 ms, so that 25 make one level window of 125 ms (definition).
ENERGY_STEP_S = 0.005
LEVEL_WINDOW_STEPS = 25

#: The band in which a voice that has lost its pitch is still heard (definition).
VOICE_BAND_HZ = (50.0, 1500.0)
#: Above this lies most of a hiss, and above the second all that a telephone line cuts off.
HISS_FROM_HZ = 2000.0
TOP_FROM_HZ = 4000.0

#: A hold ends at the last sounding instant before this much of neither pitch nor roughness.
HOLD_GAP_S = 0.400
#: Rough or broken: how far under the hold's median the voice band may be (definition).
BREAK_DEPTH_DB = 10.0
BREAK_SHORTEST_S, BREAK_LONGEST_S = 0.030, 0.400

#: What is trimmed from each end before steadiness is measured (definition).
EDGE_TRIM_S = 0.250
#: A voice nearer to the room than this is not told from it.
ABOVE_FLOOR_DB = 6.0

#: Signal-to-noise gates (definition): below, level is not judged; below, spread is not judged.
LEVEL_NEEDS_SNR_DB = 10.0
SPREAD_NEEDS_SNR_DB = 20.0
