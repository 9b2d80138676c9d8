"""The computation behind Still Reed: notes, sound, holds, targets.

Standard library, numpy and scipy only. Nothing in here prints, logs, reads the clock or a disk, or
writes sentences for people: values go in, frozen values come out, and what cannot be done is a
:class:`reedcore.errors.Refusal` with a code and the facts.
"""
