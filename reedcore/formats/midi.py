"""Notes as a Standard MIDI File, which any keyboard or notation program opens."""

from __future__ import annotations

from collections.abc import Sequence
from io import BytesIO

from mido import Message, MetaMessage, MidiFile, MidiTrack, bpm2tempo

from reedcore.errors import ValueOutOfRange
from reedcore.pitch import Note

TICKS_PER_BEAT = 480
VELOCITY = 80


def write_midi(notes: Sequence[tuple[Note | None, float]], *, beat_s: float, title: str) -> bytes:
    """Return one track of notes and rests.

    Args:
        notes: (note, or None for a rest; length in beats), one after the other.
        beat_s: length of a beat.
        title: the track's name.

    Raises:
        ValueOutOfRange: no notes at all, or a beat outside 0.1–10 s.
    """
    if not 0.1 <= beat_s <= 10.0:
        raise ValueOutOfRange(what="beat in s", value=beat_s, lowest=0.1, highest=10.0)
    if not any(note for note, _ in notes):
        raise ValueOutOfRange(what="number of notes", value=0, lowest=1, highest=None)
    track = MidiTrack()
    track.append(MetaMessage("track_name", name=title.encode("ascii", "replace").decode()))
    track.append(MetaMessage("set_tempo", tempo=bpm2tempo(60.0 / beat_s)))
    waiting = 0
    for note, beats in notes:
        ticks = round(beats * TICKS_PER_BEAT)
        if note is None:
            waiting += ticks
            continue
        track.append(Message("note_on", note=note.midi, velocity=VELOCITY, time=waiting))
        track.append(Message("note_off", note=note.midi, velocity=0, time=ticks))
        waiting = 0
    file = MidiFile(type=0, ticks_per_beat=TICKS_PER_BEAT)
    file.tracks.append(track)
    out = BytesIO()
    file.save(file=out)
    return out.getvalue()
