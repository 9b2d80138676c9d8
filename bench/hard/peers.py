"""``python -m bench.hard.peers``: gross pitch errors next to two general-purpose trackers.

Over the middle two seconds of each hold of known pitch; only frames in which all three give a pitch
count, and one is gross that is over 20 % off. Needs the benchmark's environment (`make bench`).
"""

from __future__ import annotations

from collections import defaultdict
from concurrent.futures import ProcessPoolExecutor

import librosa
import numpy as np
import pyworld

from reedcore.acoustics import analyse
from reedcore.acoustics.settings import HIGHEST_PITCH_HZ, HOP_S, LOWEST_PITCH_HZ

from ..sections import put
from .case import HardRecording
from .families import cases

PEERS = ("ours", "librosa pyin", "pyworld harvest")
SECONDS, GROSS = 2.0, 0.2
#: Sound that a peer receives before and after the hold.
BESIDE_S = 0.5
Counts = tuple[str, int, tuple[int, ...]]


def _judge_case(name: tuple[str, str]) -> Counts:
    case = next(each for each in cases() if (each.family, each.name) == name)
    sound, rate = case.make()
    if case.truth.pitch_hz is None or case.truth.holds is None:
        raise ValueError(f"{case.name} has no known pitch")
    # Each scene has a second of quiet before the hold.
    middle = 1.0 + case.truth.holds[0] / 2
    first = middle - min(SECONDS, case.truth.holds[0] - 0.6) / 2
    times = np.arange(first, 2 * middle - first, HOP_S)
    # Peers take as long for unused figures as for used ones.
    begin = max(0.0, first - BESIDE_S)
    near = sound[round(begin * rate) : round((2 * middle - first + BESIDE_S) * rate)]
    tracks = [_nearest_pitch(times, _own_track(sound, rate))]
    tracks += [_nearest_pitch(times - begin, track) for track in _peers(near, rate)]
    known = np.all([np.isfinite(track) for track in tracks], axis=0)
    true = case.truth.pitch_hz
    wrong = tuple(int(np.sum(np.abs(track[known] / true - 1) > GROSS)) for track in tracks)
    return case.family, int(known.sum()), wrong


def _own_track(sound: np.ndarray, rate: int) -> tuple[np.ndarray, np.ndarray]:
    """Return times, and pitch or NaN, as saved by the product."""
    frames = analyse(np.clip(sound, -1, 1), rate).frames
    return (np.arange(len(frames)) + 0.5) * HOP_S, frames.pitch_hz


def _peers(sound: np.ndarray, rate: int):
    """Return the tracks of the other programs."""
    low, high, hop = LOWEST_PITCH_HZ, HIGHEST_PITCH_HZ, round(HOP_S * rate)
    window = 2 ** int(np.ceil(np.log2(0.06 * rate)))
    pitch, voiced, _ = librosa.pyin(
        sound, fmin=low, fmax=high, sr=rate, hop_length=hop, frame_length=window
    )
    yield np.arange(len(pitch)) * hop / rate, np.where(voiced, pitch, np.nan)
    found, times = pyworld.harvest(sound.astype(float), rate, low, high, 1000 * HOP_S)
    yield times, np.where(found > 0, found, np.nan)


def _nearest_pitch(times: np.ndarray, track: tuple[np.ndarray, np.ndarray]) -> np.ndarray:
    """Return the pitch of the nearest frame."""
    at, pitch = track
    return pitch[np.clip(np.searchsorted(at, times), 0, len(pitch) - 1)]


def main() -> None:
    """Compare every recording of one hold of known pitch, family by family."""
    wanted: list[HardRecording] = [
        each for each in cases() if each.truth.pitch_hz and each.truth.holds
    ]
    totals: dict[str, np.ndarray] = defaultdict(lambda: np.zeros(1 + len(PEERS), dtype=int))
    with ProcessPoolExecutor() as pool:
        names = [(each.family, each.name) for each in wanted]
        for family, count, wrong in pool.map(_judge_case, names, chunksize=4):
            totals[family] += [count, *wrong]
    rows = ["| family | frames | " + " | ".join(PEERS) + " |", "|---|---:|" + "---:|" * len(PEERS)]
    for family, (count, *wrong) in totals.items():
        shares = " | ".join(f"{100 * each / max(1, count):.2f} %" for each in wrong)
        rows.append(f"| {family} | {count} | {shares} |")
    print("\n".join(rows))
    said = (
        "By `python -m bench.hard.peers`, over the middle two seconds of each hold whose pitch is"
    )
    said += " known: frames that all three give a pitch, and the share that is over 20 % off."
    put("Gross pitch errors", "\n".join([said, "", *rows]))


if __name__ == "__main__":
    main()
