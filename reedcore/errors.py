"""Errors of the core: a class, a stable code, and the facts for a message.

The core never words these for people. ``str(refusal)`` is for a developer's traceback; the web has
a sentence for each code, and a test holds the two together.
"""

from __future__ import annotations

from typing import Any, ClassVar


class Refusal(ValueError):
    """Base of all refusals. ``code`` is stable; ``facts`` are values named with their units."""

    code: ClassVar[str] = "refused"

    def __init__(self, **facts: Any) -> None:
        self.facts = facts
        named = ", ".join(f"{name}={value!r}" for name, value in facts.items())
        super().__init__(f"{self.code}: {named}" if named else self.code)

    def __reduce__(self) -> tuple[Any, ...]:
        # Keep the facts when pickling: a refusal may come from another process.
        return _refusal, (type(self), self.facts)


def _refusal(kind: type[Refusal], facts: dict[str, Any]) -> Refusal:
    return kind(**facts)


class NotANote(Refusal):
    """Facts: ``text``."""

    code = "not_a_note"


class PitchOutOfRange(Refusal):
    """Facts: ``value``, ``lowest``, ``highest`` (of the quantity ``what``)."""

    code = "pitch_out_of_range"


class NotARecording(Refusal):
    """The bytes are not a WAV file that can be read. Facts: ``detail``."""

    code = "not_a_recording"


class EmptyRecording(Refusal):
    """There is not one sample in it."""

    code = "empty_recording"


class DamagedRecording(Refusal):
    """Samples that are not numbers. Facts: ``first_bad_s``."""

    code = "damaged_recording"


class RateOutOfRange(Refusal):
    """Facts: ``rate_hz``, ``lowest_hz``, ``highest_hz``."""

    code = "rate_out_of_range"


class RecordingTooLong(Refusal):
    """Facts: ``duration_s``, ``longest_s``."""

    code = "recording_too_long"


class NoSteadySound(Refusal):
    """No steady sound is louder than the room. Facts: ``needed_db``."""

    code = "nothing_steady"


class NotATable(Refusal):
    """The file has no header, no rows, or too many rows. Facts: ``rows``, ``most``."""

    code = "not_a_table"


class NotAPracticeFile(Refusal):
    """The bytes are not such a file of this version. Facts: ``where``, ``problem``."""

    code = "not_a_practice_file"


class ValueOutOfRange(Refusal):
    """A setting outside its range. Facts: ``what``, ``value``, ``lowest``, ``highest``."""

    code = "value_out_of_range"


def refusal_classes() -> frozenset[type[Refusal]]:
    """Return every refusal class there is, for the test that each one has its sentence."""
    found: set[type[Refusal]] = set()
    waiting = [Refusal]
    while waiting:
        for child in waiting.pop().__subclasses__():
            found.add(child)
            waiting.append(child)
    return frozenset(found)


class NoSuchItem(Refusal):
    """An edit of an item that the programme does not hold (any more). Facts: ``item``."""

    code = "no_such_item"


class NotAnEdit(Refusal):
    """The request does not describe a valid edit. Facts: ``detail``."""

    code = "not_an_edit"


class NoSuchTask(Refusal):
    """Facts: ``task``."""

    code = "no_such_task"
