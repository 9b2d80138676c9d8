"""WAV files in and out: PCM of 8, 16, 24 or 32 bits, or floats, any number of channels."""

from __future__ import annotations

import io
import warnings
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
import scipy
from numpy.typing import NDArray

from reedcore.errors import EmptyRecording, NotARecording

#: Recorders write few chunks: format, samples, title, marks.
MOST_CHUNKS = 200


@dataclass(frozen=True, slots=True, eq=False)
class Recording:
    """Samples ``(n,)`` or ``(n, channels)`` in the file's own number format, and their rate."""

    samples: NDArray[Any]
    rate_hz: int

    @property
    def duration_s(self) -> float:
        """Return the length in seconds."""
        return len(self.samples) / self.rate_hz


def read_wav(data: bytes) -> Recording:
    """Return the recording in the bytes of a WAV file.

    A file that breaks off early (a battery died) gives what is there.

    Raises:
        EmptyRecording: no bytes, or no samples.
        NotARecording: not a WAV file, or of a compressed kind.
    """
    if not data:
        raise EmptyRecording()
    if data[:4] not in (b"RIFF", b"RIFX", b"RF64") or data[8:12] != b"WAVE":
        raise NotARecording(detail="the file does not begin like a WAV file")
    if _chunks(data) > MOST_CHUNKS:
        raise NotARecording(detail=f"more than {MOST_CHUNKS} chunks")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", scipy.io.wavfile.WavFileWarning)
            rate_hz, samples = scipy.io.wavfile.read(io.BytesIO(data))
    except EmptyRecording:
        raise
    except Exception as error:  # scipy raises various errors for a broken header.
        raise NotARecording(detail=str(error)) from error
    if samples.size == 0:
        raise EmptyRecording()
    if rate_hz <= 0:
        raise NotARecording(detail=f"a sampling rate of {rate_hz} Hz")
    return Recording(samples, int(rate_hz))


def _chunks(data: bytes) -> int:
    """Return how many chunks a file has, or one more than it may have.

    Reading a chunk costs as much as a thousand samples, so a file of empty ones is a way to keep a
    measuring process busy."""
    order: Literal["big", "little"] = "big" if data[:4] == b"RIFX" else "little"
    at, count = 12, 0
    while at + 8 <= len(data) and count <= MOST_CHUNKS:
        size = int.from_bytes(data[at + 4 : at + 8], order)
        at += 8 + size + size % 2
        count += 1
    return count


def write_wav(samples: NDArray[np.floating[Any]], rate_hz: int) -> bytes:
    """Return a 16-bit WAV file of floats with full scale at ±1; larger values are clipped."""
    pcm = np.round(np.clip(samples, -1.0, 1.0) * 32767.0).astype("<i2")
    out = io.BytesIO()
    scipy.io.wavfile.write(out, rate_hz, pcm)
    return out.getvalue()
