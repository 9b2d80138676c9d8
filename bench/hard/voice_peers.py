"""``python -m bench.hard.voice_peers``: figures of voice quality, compared with the phonetics
program that published values were measured with.

Cepstral prominence, jitter, shimmer, harmonics to noise and the average spectrum of the middle of
each hold, and the cepstrum of talk. Needs the benchmark's environment (`make bench`).
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor

import numpy as np
import parselmouth
from parselmouth.praat import call
from scipy.signal import resample_poly

from reedcore.acoustics import analyse
from reedcore.acoustics.settings import WORKING_RATE_HZ
from reedcore.acoustics.voice.cepstral import cepstral_prominence_db
from reedcore.acoustics.voice.perturbation import perturbation_of
from reedcore.acoustics.voice.spectrum import long_term_spectrum

from ..sections import put
from .__main__ import cases
from .case import HardRecording
from .source import RATE

#: Maximum length of the compared part, and its distance from the ends of the hold, s.
SECONDS, INSIDE_S = 4.0, 0.3
#: Search range around the true pitch.
ABOUT = 1.6
UNITS = {
    "cepstral prominence": "dB", "jitter": "%", "shimmer": "%", "harmonics to noise": "dB",
    "spectrum's slope": "dB",
}  # fmt: skip
Pairs = dict[str, tuple[float, float]]


def _compared_recordings() -> list[HardRecording]:
    """Return single holds of known pitch without chopping, and talk."""
    return [
        each
        for each in cases()
        if each.family.endswith("talk")
        or (each.truth.pitch_hz and each.truth.holds and not each.truth.wet)
    ]


def _compare(which: tuple[str, str]) -> Pairs:
    case = next(each for each in cases() if (each.family, each.name) == which)
    sound, rate = case.make()
    if rate != RATE:
        return {}
    sound = np.clip(sound, -1.0, 1.0)
    if not case.truth.holds:
        first, last = 1.0, min(len(sound) / rate - 1.0, 1.0 + SECONDS)
        return dict(_pairs(sound[round(first * rate) : round(last * rate)], None))
    analysis = analyse(sound, rate)
    if len(analysis.holds) != 1 or not analysis.quality.voice_judged:
        return {}
    hold = analysis.holds[0]
    first = hold.start_s + INSIDE_S
    last = min(hold.end_s - INSIDE_S, first + SECONDS)
    hz = hold.pitch.median_hz
    if last - first < 1.0 or not np.isfinite(hz):
        return {}
    return dict(_pairs(sound[round(first * rate) : round(last * rate)], hz))


def _pairs(sound: np.ndarray, hz: float | None) -> Iterator[tuple[str, tuple[float, float]]]:
    """Return (our value, the peer's value) of each figure."""
    ours = resample_poly(sound, WORKING_RATE_HZ // 100, RATE // 100).astype(np.float32)
    theirs = parselmouth.Sound(sound, RATE)
    cepstra = call(theirs, "To PowerCepstrogram", 60, 0.002, 5000, 50)
    read = call(
        cepstra, "Get CPPS", False, 0.01, 0.001, 60, 330, 0.05, "Parabolic", 0.001, 0, "Straight",
        "Robust",
    )  # fmt: skip
    yield "cepstral prominence", (cepstral_prominence_db(ours), read)
    slope = call(call(theirs, "To Ltas", 15), "Get slope", 50, 1000, 1000, 4000, "energy")
    yield "spectrum's slope", (long_term_spectrum(ours).slope_db, slope)
    if hz is None:
        return
    low, high = max(50.0, hz / ABOUT), min(1400.0, hz * ABOUT)
    found = perturbation_of(ours, pitch_hz=hz)
    pulses = call(theirs, "To PointProcess (periodic, cc)", low, high)
    jitter = call(pulses, "Get jitter (local)", 0, 0, 0.0001, 0.02, 1.3)
    yield "jitter", (found.jitter_percent, 100 * jitter)
    shimmer = call([theirs, pulses], "Get shimmer (local)", 0, 0, 0.0001, 0.02, 1.3, 1.6)
    yield "shimmer", (found.shimmer_percent, 100 * shimmer)
    harmonicity = call(theirs, "To Harmonicity (cc)", 0.01, low, 0.1, 1.0)
    yield "harmonics to noise", (found.hnr_db, call(harmonicity, "Get mean", 0, 0))


def main() -> None:
    """Compare all of them, figure by figure."""
    pairs: dict[str, list[tuple[float, float]]] = defaultdict(list)
    with ProcessPoolExecutor() as pool:
        for each in pool.map(
            _compare, [(c.family, c.name) for c in _compared_recordings()], chunksize=4
        ):
            for figure, both in each.items():
                if np.isfinite(both).all():
                    pairs[figure].append(both)
    rows = [
        "| figure | recordings | correlation | ours less theirs, middle | apart, 95 % |",
        "|---|---:|---:|---:|---:|",
    ]
    for figure, unit in UNITS.items():
        ours, theirs = np.array(pairs[figure]).T
        apart = ours - theirs
        rows.append(
            f"| {figure} | {len(apart)} | {np.corrcoef(ours, theirs)[0, 1]:.4f} |"
            f" {np.median(apart):+.2f} {unit} | {np.percentile(np.abs(apart), 95):.2f} {unit} |"
        )
    print("\n".join(rows))
    said = (
        "By `python -m bench.hard.voice_peers`, over the middle of each hold of known pitch and"
        " over talk, beside the common phonetics program (its package for Python)."
    )
    put("A voice’s own sound", "\n".join([said, "", *rows]))


if __name__ == "__main__":
    main()
