"""Speed of the measuring, compared with general-purpose pitch trackers on the same samples."""

from __future__ import annotations

import subprocess
import sys
import time
from collections.abc import Callable
from statistics import median

import numpy as np

from reedcore.acoustics import Frames, LiveAnalyser, analyse
from reedcore.synthvoice import HeldVoice, VoicedPart, speak
from web.sound.engine import pace_s
from web.sound.takes import HEADER, SAMPLE, Take, add_all

RATE = 48_000
LOWEST_HZ, HIGHEST_HZ, HOP = 50.0, 1300.0, 480
#: A page sends its sound in blocks of this many samples.
LIVE_CHUNK = round(0.06 * RATE)


def samples(seconds: float) -> np.ndarray:
    """Return a hold of this many seconds at 48 kHz, as a device sends it."""
    held = HeldVoice(VoicedPart(seconds - 2.0, 174.61), lead_s=1.0, tail_s=1.0)
    return speak(held, rate_hz=RATE).samples.astype(np.float32)


def timed(work: Callable[[], object], times: int = 3) -> float:
    """Return the median of several runs, s."""
    taken = []
    for _ in range(times):
        begun = time.process_time()
        work()
        taken.append(time.process_time() - begun)
    return median(taken)


def track(sound: np.ndarray) -> Frames:
    """Track the pitch alone: from the file's own rate, including resampling and frames."""
    live = LiveAnalyser(RATE)
    return Frames.join([live.feed(sound), live.finish()])


def peers(sound: np.ndarray) -> dict[str, Callable[[], object]]:
    """Return the general-purpose trackers, set to the same range and hop."""
    import librosa
    import pyworld

    doubles = sound.astype(np.float64)
    same = {"fmin": LOWEST_HZ, "fmax": HIGHEST_HZ, "sr": RATE, "frame_length": 2048}
    return {
        "librosa yin": lambda: librosa.yin(sound, hop_length=HOP, **same),
        "librosa pyin": lambda: librosa.pyin(sound, hop_length=HOP, **same),
        "pyworld dio": lambda: pyworld.dio(doubles, RATE, LOWEST_HZ, HIGHEST_HZ, 2.0, 10.0),
        "pyworld harvest": lambda: pyworld.harvest(doubles, RATE, LOWEST_HZ, HIGHEST_HZ, 10.0),
    }


def live_cpu_per_second(sound: np.ndarray, takes: int = 1) -> float:
    """Return the CPU seconds per second of live sound, with this many simultaneous takes."""
    several = [Take(RATE) for _ in range(takes)]
    pcm = (sound * 32767).astype(SAMPLE)
    chunks = [
        np.array([at], HEADER).tobytes() + pcm[at : at + LIVE_CHUNK].tobytes()
        for at in range(0, len(pcm), LIVE_CHUNK)
    ]
    a_round = max(1, round(pace_s(takes) * RATE / LIVE_CHUNK))
    begun = time.process_time()
    for at in range(0, len(chunks), a_round):
        add_all([(take, chunks[at : at + a_round]) for take in several])
    return (time.process_time() - begun) / (len(sound) / RATE) / takes


def longest_wait_s(sound: np.ndarray) -> float:
    """Return the longest delay of a frame after the last sample of its window, s."""
    live, out, worst = LiveAnalyser(RATE), 0, 0.0
    for at in range(0, len(sound), 32):
        frames = live.feed(sound[at : at + 32])
        now_s = min(at + 32, len(sound)) / RATE
        if len(frames):
            worst = max(worst, now_s - (out * 0.010 + 0.005 + 0.020))
            out += len(frames)
    return worst


def peak_memory_mb(seconds: float) -> float:
    """Return the memory that measuring a recording needs in its own process, besides the
    samples."""
    program = (
        "import numpy as np\n"
        "from reedcore.acoustics import analyse\n"
        f"rate, seconds = {RATE}, {seconds:.0f}\n"
        "x = np.zeros(rate * seconds, 'f4')\n"
        "rng, t = np.random.default_rng(0), np.arange(rate) / rate\n"
        "for at in range(1, seconds - 1):  # a second at a time, or making it takes more than\n"
        "    f = 175 + rng.normal(0, 0.3)  # measuring it\n"
        "    x[at * rate : (at + 1) * rate] = 0.1 * np.sin(2 * np.pi * f * t)\n"
        "analyse(x[: 2 * rate], rate)\n"
        # getrusage would include the parent's peak; this figure starts again with the program.
        "def peak():\n"
        "    rows = open('/proc/self/status')\n"
        "    return next(int(row.split()[1]) for row in rows if 'VmHWM' in row)\n"
        "before = peak()\n"
        f"analyse(x, {RATE})\n"
        "print(peak() - before)\n"
    )
    done = subprocess.run(
        [sys.executable, "-c", program], capture_output=True, text=True, check=True
    )
    return float(done.stdout) / 1024.0


def whole(sound: np.ndarray) -> object:
    """Measure everything."""
    return analyse(sound, RATE, target_hz=174.61)
