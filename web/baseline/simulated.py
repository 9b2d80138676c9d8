"""A synthetic client at the sheet, and the simulated instruments.

Each has one seam: the address that a real instrument would answer at.
"""

from __future__ import annotations

from functools import partial

from django.conf import settings

from reedcore.baseline.steps import BaselineStep
from reedcore.synthvoice import Clip, Hiss, Room, Silence, Talk, VoicedPart, render
from reedcore.synthvoice.instruments import meter_reading_db_spl, spirometer_reading_ml
from web.clients.models import Client

#: Comfortable pitch in Hz and maximum volume in mL of the synthetic voices.
VOICES = {
    Client.Voice.TREBLE: (212.0, 2900.0),
    Client.Voice.BASS: (118.0, 3700.0),
    Client.Voice.OWN: (165.0, 3200.0),
}
RATE_HZ = 48_000


def simulated_take(
    client: Client, step: BaselineStep, *, seed: int, rate_hz: int = RATE_HZ
) -> Clip:
    """Return the synthetic client's take of a step; the same seed gives the same take."""
    hz, _ = VOICES[Client.Voice(client.voice)]
    breath_s = settings.SIMULATED_BREATH_S
    long_s = breath_s * (0.9 + 0.02 * (seed % 9))
    short_s, said_s, glide_s = min(3.0, breath_s), min(4.0, breath_s), min(3.5, breath_s)
    voiced = partial(VoicedPart, jitter_cents=5.0, vowel="ah")
    parts_by_step: dict[str, VoicedPart | Talk | Hiss] = {
        "calibration": voiced(short_s, hz, level_dbfs=-24.0),
        "comfortable": voiced(short_s, hz * _vary_pitch(seed), level_dbfs=-27.0),
        "habitual": Talk(said_s, hz * 0.9, level_dbfs=-26.0),
        "easiest": Talk(said_s, hz, level_dbfs=-26.0),
        "vowel": voiced(long_s, hz, fall_db=4.0),
        "s": Hiss(long_s * 1.1),
        "z": VoicedPart(
            long_s * 0.95, hz, level_dbfs=-26.0, jitter_cents=5.0, vowel="ee", breathiness_db=-18.0
        ),
        "glide_up": voiced(glide_s, ((0.0, hz / 1.3), (glide_s, hz * 2.2))),
        "glide_down": voiced(glide_s, ((0.0, hz * 2.1), (glide_s, hz / 1.4))),
        "loud": voiced(short_s, hz * 1.12, level_dbfs=-15.0),
        "reading": Talk(said_s, hz * 0.92, level_dbfs=-26.0),
        "talk": Talk(said_s, hz * 0.9, level_dbfs=-27.0),
    }
    parts = (Silence(0.5), parts_by_step[step.code], Silence(1.3 if step.ends_itself else 0.5))
    return render(parts, room=Room(-68.0), rate_hz=rate_hz, seed=seed)


def _vary_pitch(seed: int) -> float:
    """Vary the pitch between attempts by up to a sixth of a tone, as a singer does."""
    return 2.0 ** ((seed % 7 - 3) / 180)


def meter_reading(dbfs: float, *, seed: int) -> float:
    """Return the seam of the sound-level meter."""
    return meter_reading_db_spl(dbfs, seed=seed)


def spirometer_reading(client: Client, *, seed: int) -> float:
    """Return the seam of the spirometer."""
    return spirometer_reading_ml(usual_ml=VOICES[Client.Voice(client.voice)][1], seed=seed)
