"""Twelve families of hard recordings."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial

import numpy as np
from scipy.signal import butter, resample_poly, sosfilt

from reedcore.acoustics import TakeKind
from reedcore.acoustics.voice.quality import QualityReason

from . import elsewhere, rooms, source
from .case import HardRecording, Truth, rng_of
from .source import MOUTHS, RATE

SENTENCES = (
    "The ferry leaves at nine in the morning and comes back at noon.",
    "How are you today? I am very well, thank you.",
    "Many men may mow in the morning meadow.",
    "We were away a year ago, you know.",
    "Please bring the long red rope from the boat house.",
    "No, I will not be home before eleven, I am afraid.",
)
ESPEAK = ("en-gb", "en-us", "en-gb-scotland", "de", "fr", "it", "sv", "pt")
FLITE = ("kal16", "awb", "rms", "slt")
PITCHES = (82.0, 110.0, 147.0, 196.0, 262.0, 349.0, 466.0, 622.0)
Made = tuple[np.ndarray, int]


def cases() -> list[HardRecording]:
    """Yield all cases, family by family."""
    makers = (
        _voices, _breathy, _sung, _talk, _articulated_cases, _home, _echoes, _codec_cases,
        _hiss_cases, _wet, _gliding, _speech,
    )  # fmt: skip
    return [case for maker in makers for case in maker()]


def _hold_case(name: str, hz: float, seconds: float, mouth, **how) -> np.ndarray:
    rng = rng_of(name)
    wander = how.pop("wander_cents", 12.0)
    return source.voice(
        source.steady(seconds, hz, rng=rng, wander_cents=wander), mouth, rng=rng, **how
    )


def _scale(hz: float) -> float:
    """Return the formant scale of a voice: a man's, a woman's, a child's."""
    return 1.0 if hz < 170 else 1.15 if hz < 300 else 1.25


def _scene(name: str, sound: np.ndarray, **how) -> Made:
    return rooms.scene(sound, rng=rng_of(name), **how), RATE


def _voices() -> Iterator[HardRecording]:
    kinds: dict[str, dict] = {
        "even": {},
        "pressed": {"open_share": 0.42},
        "slack": {"open_share": 0.8, "breath_db": -22.0},
        "breathy": {"open_share": 0.8, "breath_db": -8.0},
        "very breathy": {"open_share": 0.85, "breath_db": -3.0},
        "rough": {"jitter": 0.025, "shimmer_db": 1.2},
    }
    for kind, how in kinds.items():
        for at, hz in enumerate(PITCHES):
            vowel = tuple(MOUTHS)[(at + len(kind)) % 7]
            name = f"{kind}, “{vowel}” at {hz:.0f} Hz"
            seconds = 2.0 + (at * 1.7) % 6

            def make(name=name, hz=hz, seconds=seconds, vowel=vowel, how=how):
                mouth = source.mouth(vowel, scale=_scale(hz))
                return _scene(name, _hold_case(name, hz, seconds, mouth, **how))

            yield HardRecording(
                "voices", name, make, Truth((seconds,), hz, wet=False), TakeKind.HOLD
            )


def _breathy() -> Iterator[HardRecording]:
    """Yield breathy voices through mouths whose lowest resonance is at or below half the pitch."""
    for vowel in MOUTHS:
        for at, hz in enumerate((104.0, 139.0, 185.0, 247.0, 330.0, 440.0, 587.0, 698.0)):
            breath_db = (-6.0, -4.0, -2.0)[(at + len(vowel)) % 3]
            name = f"breath {breath_db:+.0f} dB, “{vowel}” at {hz:.0f} Hz"

            def make(name=name, hz=hz, vowel=vowel, breath_db=breath_db):
                mouth = source.mouth(vowel, scale=_scale(hz))
                return _scene(
                    name, _hold_case(name, hz, 3.0, mouth, open_share=0.85, breath_db=breath_db)
                )

            yield HardRecording(
                "breathy voices", name, make, Truth((3.0,), hz, wet=False), TakeKind.HOLD
            )


def _sung() -> Iterator[HardRecording]:
    if not (elsewhere.there("fluidsynth") and elsewhere.FONT.is_file()):
        return
    for program, what in ((52, "ah"), (53, "oo"), (54, "another")):
        for note in (45, 50, 55, 58, 62, 65, 69, 72, 76, 79, 81):
            name = f"{what}, note {note}"

            def make(name=name, program=program, note=note):
                sound = elsewhere.sampled_instrument(program, ((note, 0.0, 4.0),), 4.6)
                return _scene(name, sound)

            hz = 440.0 * 2 ** ((note - 69) / 12)
            seconds = _audible_s(elsewhere.sampled_instrument(program, ((note, 0.0, 4.0),), 4.6))
            truth = Truth((seconds,), hz, wet=False, length_s=0.25, pitch_cents=35.0)
            yield HardRecording("sampled singers", name, make, truth, TakeKind.HOLD)


def _audible_s(sound: np.ndarray) -> float:
    """Return how long a sound stays within 25 dB of its middle, because a sampler fades its notes
    out."""
    step = RATE // 50
    power = np.array([np.mean(sound[at : at + step] ** 2) for at in range(0, len(sound), step)])
    loud = np.flatnonzero(power > np.median(power) * 10**-2.5)
    return float(loud[-1] + 1 - loud[0]) / 50.0


def _talk() -> Iterator[HardRecording]:
    def case(name: str, sound: Callable[[], np.ndarray]) -> HardRecording:
        return HardRecording(
            "talk", name, lambda: _scene(name, sound()), Truth(holds=()), TakeKind.HOLD
        )

    for at, text in enumerate(SENTENCES):
        if elsewhere.there("espeak-ng"):
            for voice in ESPEAK:
                pitch, speed = 25 + 11 * at, 115 + 17 * at
                said = partial(elsewhere.espeak, text, voice, pitch=pitch, speed=speed)
                yield case(f"one synthesiser, {voice}, sentence {at}", said)
        if elsewhere.there("flite"):
            for voice in FLITE:
                yield case(
                    f"another, {voice}, sentence {at}", partial(elsewhere.flite, text, voice)
                )
        if elsewhere.there("text2wave"):
            yield case(f"a third, sentence {at}", partial(elsewhere.festival, text))
    for language in elsewhere.languages():
        for number in (11, 12):
            said = partial(elsewhere.people, language, number)
            yield case(f"people, {language}, {number}", said)


def _articulated_cases() -> Iterator[HardRecording]:
    moves = {
        "mam-mam": (("m", "ah"), 0.19, 0.06),
        "slow mam-mam": (("m", "ah"), 0.3, 0.07),
        "ng-ah": (("ng", "ah"), 0.45, 0.08),
        "ya-ya": (("ee", "ah"), 0.22, 0.12),
        "vowel to vowel": (("ah", "ay", "ee", "oh", "oo"), 0.6, 0.2),
        "quick vowels": (("ah", "ee", "oo", "ay", "oh"), 0.28, 0.12),
    }
    for kind, (names, every, quick) in moves.items():
        for hz in PITCHES[:7]:
            name = f"{kind} at {hz:.0f} Hz"

            def make(name=name, hz=hz, names=names, every=every, quick=quick):
                mouth = source.moving(names, every_s=every, quick_s=quick, scale=_scale(hz))
                return _scene(name, _hold_case(name, hz, 5.0, mouth, wander_cents=15.0))

            yield HardRecording(
                "articulated holds", name, make, Truth((5.0,), hz, wet=False), TakeKind.HOLD
            )


def _home() -> Iterator[HardRecording]:
    noises: dict[str, Callable[[int, np.random.Generator], np.ndarray]] = {
        "wind": lambda many, rng: rooms.wind(many, rng=rng),
        "a fan": lambda many, rng: rooms.coloured(many, rng=rng, tilt=0.97),
    }
    if elsewhere.there("fluidsynth") and elsewhere.FONT.is_file():
        noises["music"] = _music
    if elsewhere.languages():
        noises["a television"] = _television
    for what, noise in noises.items():
        for at, under in enumerate((30.0, 24.0, 20.0, 16.0)):
            for hz in (PITCHES[at], PITCHES[at + 3]):
                vowel = ("ah", "oo", "ee", "m")[at]
                name = f"{what} {under:.0f} dB under “{vowel}” at {hz:.0f} Hz"

                def make(name=name, noise=noise, under=under, hz=hz, vowel=vowel):
                    mouth = source.mouth(vowel, scale=_scale(hz))
                    sound, _ = _scene(name, _hold_case(name, hz, 4.5, mouth))
                    beside = noise(len(sound), rng_of(name))[: len(sound)]
                    return sound + rooms.at_level(beside, -22.0 - under), RATE

                truth = Truth((4.5,), hz, length_s=0.2, pitch_cents=25.0)
                yield HardRecording("sounds of home", name, make, truth, TakeKind.HOLD)


def _music(many: int, rng: np.random.Generator) -> np.ndarray:
    program = int(rng.choice([0, 24, 48, 73]))
    tunes = (tuple((int(60 + rng.integers(-12, 12)), at * 0.4, 0.38) for at in range(24)),)
    return np.tile(elsewhere.sampled_instrument(program, tunes[0], 9.6), 1 + many // (9 * RATE))


def _television(many: int, rng: np.random.Generator) -> np.ndarray:
    some = [
        elsewhere.people(str(each), int(rng.integers(50)))
        for each in rng.choice(elsewhere.languages(), 4)
    ]
    return np.tile(np.concatenate(some), 1 + many // sum(map(len, some)))


def _echoes() -> Iterator[HardRecording]:
    for decay in (0.3, 0.5, 0.7, 0.9):
        for at, hz in enumerate(PITCHES):
            vowel = ("ah", "ee", "oo", "m")[at % 4]
            name = f"{decay:.1f} s, “{vowel}” at {hz:.0f} Hz"

            def make(name=name, decay=decay, hz=hz, vowel=vowel):
                mouth = source.mouth(vowel, scale=_scale(hz))
                held = np.pad(_hold_case(name, hz, 4.0, mouth), (0, RATE))
                return _scene(name, rooms.add_reverberation(held, decay, rng=rng_of(name)))

            yield HardRecording("rooms that echo", name, make, Truth((4.0,), hz), TakeKind.HOLD)


def _codec_cases() -> Iterator[HardRecording]:
    if not elsewhere.there("sox"):
        return
    forms: dict[str, tuple[tuple[str, ...], int]] = {
        "telephone": (("-t", "wavpcm", "-e", "u-law"), 8000),
        "old telephone": (("-t", "gsm"), 8000),
        "small file": (("-t", "ogg", "-C", "0"), 16_000),
        "music file": (("-t", "mp3", "-C", "48"), 44_100),
    }
    for what, (form, rate) in forms.items():
        for at, hz in enumerate(PITCHES):
            vowel = ("ah", "ee", "oh", "oo")[at % 4]
            name = f"{what}, “{vowel}” at {hz:.0f} Hz"

            def make(name=name, form=form, rate=rate, hz=hz, vowel=vowel):
                mouth = source.mouth(vowel, scale=_scale(hz))
                sound, _ = _scene(name, _hold_case(name, hz, 3.5, mouth))
                return elsewhere.through_codec(sound, form, rate)

            tells = QualityReason.NARROW_BAND if rate == 8000 else None
            yield HardRecording("codecs", name, make, Truth((3.5,), hz, tells), TakeKind.HOLD)


def _hiss_cases() -> Iterator[HardRecording]:
    for at in range(8):
        seconds = 2.5 + at

        def held(name, seconds=seconds, at=at):
            band = (3800.0 + 300 * at, 8500.0 + 500 * at)
            return _scene(name, rooms.hiss(seconds, rng=rng_of(name), band=band), dbfs=-34.0 + at)

        def hummed(name, held=held):
            sound, rate = held(name)
            t = np.arange(len(sound)) / RATE
            return sound + 0.006 * np.sin(2 * np.pi * 50 * t) + 0.003 * np.sin(
                2 * np.pi * 150 * t
            ), rate

        def whistled(name, seconds=seconds, at=at):
            rng = rng_of(name)
            noise = rooms.hiss(seconds, rng=rng)
            t = np.arange(len(noise)) / RATE
            ramp = np.minimum(1.0, np.minimum(t, seconds - t) / 0.05)
            tone = np.sin(2 * np.pi * (5200 + 300 * at) * t) * ramp
            return _scene(name, noise + 0.5 * np.std(noise) * tone, dbfs=-30.0)

        def narrow(name, held=held):
            sound, _ = held(name)
            low = sosfilt(butter(8, 3400, fs=RATE, output="sos"), sound)
            return resample_poly(low, 80, 441), 8000

        def drawn(name, at=at):
            rng = rng_of(name)
            return _scene(name, rooms.breath(0.9 + 0.15 * at, rng=rng), dbfs=-40.0)

        def running(name, at=at):
            rng = rng_of(name)
            return rooms.at_level(rooms.tap(6 * RATE, rng=rng), -44.0 + at), RATE

        for what, make, truth in (
            ("a hiss", held, Truth((seconds,))),
            ("hum under it", hummed, Truth((seconds,))),
            ("whistled", whistled, Truth((seconds,))),
            ("narrow", narrow, Truth(tells=QualityReason.NARROW_BAND)),
            ("a breath drawn in", drawn, Truth(holds=())),
            ("a tap", running, Truth(holds=())),
        ):
            name = f"{what} {at}"
            yield HardRecording("hiss", name, partial(make, name), truth, TakeKind.HISS)


def _wet() -> Iterator[HardRecording]:
    for at, hz in enumerate((*PITCHES[:6], 125.0, 220.0)):

        def bubbled(name, hz=hz, at=at):
            held = _hold_case(name, hz, 5.0, source.mouth("oo", scale=_scale(hz)))
            return _scene(name, rooms.bubbling(held, rng=rng_of(name), rate_hz=11.0 + 2 * at))

        def glided(name, hz=hz, at=at):
            rng = rng_of(name)
            pitch = hz * 2 ** (np.linspace(0, 8, 4 * RATE) / 12)
            sound = source.voice(pitch, source.mouth("oo", scale=_scale(hz)), rng=rng)
            return _scene(name, rooms.bubbling(sound, rng=rng, rate_hz=12.0 + at))

        def trilled(name, hz=hz, at=at):
            held = _hold_case(name, hz, 5.0, source.mouth("oh", scale=_scale(hz)))
            t = np.arange(len(held)) / RATE
            return _scene(name, held * (0.55 + 0.45 * np.sin(2 * np.pi * (21 + at) * t)))

        wet_hold = Truth((5.0,), hz, wet=True, length_s=0.25, pitch_cents=25)
        wet_glide = Truth(range_hz=(hz, hz * 2 ** (8 / 12)), jumps=0, wet=True)
        for what, make, truth, task in (
            ("bubbles", bubbled, wet_hold, TakeKind.HOLD),
            ("bubbles, gliding", glided, wet_glide, TakeKind.GLIDE),
            ("a trill", trilled, Truth((5.0,), hz, wet=True, length_s=0.2), TakeKind.HOLD),
        ):
            name = f"{what} at {hz:.0f} Hz"
            yield HardRecording("water and trills", name, partial(make, name), truth, task)
        for uneven in (0.2, 0.5, 0.7):
            rate_hz = (9.0, 12.0, 16.0, 20.0, 26.0)[(at + int(10 * uneven)) % 5]

            def uneven_ones(name, hz=hz, uneven=uneven, rate_hz=rate_hz):
                held = _hold_case(name, hz, 5.0, source.mouth("oh", scale=_scale(hz)))
                chopped = rooms.bubbling(held, rng=rng_of(name), rate_hz=rate_hz, uneven=uneven)
                return _scene(name, chopped)

            name = f"{rate_hz:.0f} bubbles a second, uneven by {uneven:.1f}, at {hz:.0f} Hz"
            yield HardRecording(
                "water and trills", name, partial(uneven_ones, name), wet_hold, TakeKind.HOLD
            )


def _gliding() -> Iterator[HardRecording]:
    for hz in PITCHES[:7]:
        for what, curve, top in (
            ("up", np.linspace(0, 12, 3 * RATE), 12),
            ("down", np.linspace(12, 0, 3 * RATE), 12),
            ("slowly up", np.linspace(0, 7, 7 * RATE), 7),
            ("up and down", 5 - 5 * np.cos(np.linspace(0, 2 * np.pi, 4 * RATE)), 10),
            ("sirens", 4 - 4 * np.cos(np.linspace(0, 6 * np.pi, 6 * RATE)), 8),
            ("down into fry", np.linspace(10, 0, 3 * RATE), 10),
        ):
            name = f"{what} from {hz:.0f} Hz"

            def make(name=name, hz=hz, curve=curve, what=what):
                rng = rng_of(name)
                how = {"rng": rng, "open_share": 0.65}
                mouth = source.mouth(("oo", "ah", "ee")[len(name) % 3], scale=_scale(hz))
                sound = source.voice(hz * 2 ** (curve / 12), mouth, **how)
                if what.endswith("fry"):
                    low = np.full(round(0.8 * RATE), 34.0) * 2 ** (rng.normal(0, 0.05))
                    rattle = source.voice(
                        low, mouth, rng=rng, jitter=0.12, shimmer_db=2.0, open_share=0.3
                    )
                    sound = np.concatenate([sound, 0.35 * rattle])
                return _scene(name, sound)

            truth = Truth(range_hz=(hz, hz * 2 ** (top / 12)), jumps=0)
            yield HardRecording("glides", name, make, truth, TakeKind.GLIDE)


def _speech() -> Iterator[HardRecording]:
    voices: list[tuple[str, Callable[[str], np.ndarray]]] = []
    if elsewhere.there("espeak-ng"):
        voices += [(v, partial(_by_espeak, v)) for v in ESPEAK[:5]]
    if elsewhere.there("flite"):
        voices += [(v, partial(_by_flite, v)) for v in FLITE]
    for voice, say in voices:
        for count, loud in ((3, False), (4, True), (5, True)):
            name = f"{voice}, {count} lines, {'breaths to be heard' if loud else 'silent breaths'}"

            def make(name=name, say=say, count=count, loud=loud):
                rng = rng_of(name)
                parts = []
                for at in range(count):
                    line = _trim(say(SENTENCES[(at + 2) % 4 + (at > 3)]))
                    drawn = (
                        0.14 * rooms.breath(0.55 + 0.05 * at, rng=rng)
                        if loud
                        else np.zeros(round(0.75 * RATE))
                    )
                    gap = np.zeros(round(0.06 * RATE))
                    parts += [0.2 * line / np.sqrt(np.mean(line**2)), gap, drawn, gap]
                return _scene(name, np.concatenate(parts[:-3]))

            yield HardRecording(
                "lines with breaths", name, make, Truth(groups=count), TakeKind.SPEECH
            )


def _by_espeak(voice: str, text: str) -> np.ndarray:
    return elsewhere.espeak(text.split("?")[0], voice, pitch=45, speed=165)


def _by_flite(voice: str, text: str) -> np.ndarray:
    return elsewhere.flite(text.split("?")[0].replace(",", ""), voice)


def _trim(sound: np.ndarray) -> np.ndarray:
    loud = np.flatnonzero(np.abs(sound) > 0.03 * np.abs(sound).max())
    return sound[loud[0] : loud[-1] + 1]
