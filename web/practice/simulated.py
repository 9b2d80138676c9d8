"""The simulated microphone's repertoire: a made-up client at the task in hand."""

from reedcore.synthvoice import VOWELS, Clip, HeldVoice, Voiced, speak
from web.programmes.queries import note_hz

#: Where no note is asked for, the made-up client has a voice of their own.
OWN_HZ = 180.0
#: The voice synthesised for sounds that have no vowel of their own.
NEAREST_VOWEL = {"mee": "ee", "hum": "oo"}
#: Straws, trills and other sounds with nearly closed lips are nearest to this one.
HUMMED = "oo"

#: What each manner does: (label, share of the target held, changes to an even voice).
MANNERS = {
    "even": ("holds evenly past the target", 1.08, {"scoop_cents": -90.0}),
    "short": ("runs out of air early", 0.7, {"fall_db": 10.0, "drift_cents": -35.0}),
    "flat": ("sings flat", 1.02, {"pitch_cents": -70.0}),
    "shaky": ("trembles", 0.95, {"tremor_cents": 70.0}),
    "broken": ("breaks once on the way", 1.0, {"break_at": 0.5}),
    "octave": ("sings an octave low", 1.0, {"pitch_cents": -1200.0}),
    "silent": ("makes no sound", 0.0, {"level_dbfs": -150.0}),
}


def simulated_clip(task, *, manner: str, seed: int, rate_hz: int = 48_000) -> Clip:
    """What the made-up client does with this task; the same seed does the same again."""
    _, share, changes = MANNERS[manner]
    changes = dict(changes)
    cents = changes.pop("pitch_cents", 0.0)
    break_at = changes.pop("break_at", None)
    # two voices never hold equally long: up to 6 % more or less
    hold_s = max(0.4, task.target_s * share * (0.94 + 0.12 * ((seed * 37) % 100) / 100))
    if break_at is not None:
        changes["breaks"] = ((hold_s * break_at, 0.14),)
    voice = Voiced(
        seconds=hold_s,
        pitch_hz=(note_hz(task) or OWN_HZ) * 2 ** ((cents + seed % 13 - 6) / 1200),
        vowel=vowel_of(task),
        **changes,
    )
    held = HeldVoice(voice, tail_s=1.6, breath_in=manner != "silent", seed=seed)
    return speak(held, rate_hz=rate_hz)


def vowel_of(task) -> str:
    """The vowel the simulated voice has for a task's sound."""
    sound = NEAREST_VOWEL.get(task.sound, task.sound)
    return sound if sound in VOWELS else HUMMED
