"""A programme's document as values, and values as a document: the one place where JSON turns into
a :class:`Programme` and back.

Documents read here were validated by ``cleaned``, now or when they were stored.
Fields that an older document lacks get their neutral values.
"""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date, time
from typing import Any

from reedcore.catalogue.ages import ADULT
from reedcore.dose import Dose, DoseKind
from reedcore.dose.today import USUAL_ANSWERS, Day

from .document_schema import FORMAT, VERSION
from .programme import MAIN, BesideProgramme, Item, ItemPattern, Programme, TaperState

#: Item fields that are lists in a document.
_LISTS = ("notes", "row", "rungs", "lines", "words")
#: Item fields that are plain values in a document.
_PLAIN = (
    "sets", "sound", "counts", "floor", "ceiling", "reason", "meant", "strand", "short", "sip",
    "cue", "contrast", "ladder", "say_before", "picture", "feedback", "cues",
    "words_replace",
)  # fmt: skip


#: Every name that an item has in a document that says all.
ITEM_NAMES = frozenset({"id", "task", "params", "limits", "or", "pattern", *_PLAIN, *_LISTS})


def item_from(raw: Mapping[str, Any]) -> Item:
    """Return an item of a document as a value.

    Raises:
        KeyError: it has no id or no task.
    """
    given = {name: raw[name] for name in _PLAIN if name in raw}
    given |= {name: tuple(raw[name]) for name in _LISTS if name in raw}
    given |= {name: dict(raw[name]) for name in ("params", "limits") if name in raw}
    # Older documents had no choice: own words replaced the task's.
    given.setdefault("words_replace", bool(raw.get("words")))
    if pattern := raw.get("pattern"):
        groups = tuple(tuple(group) for group in pattern.get("groups", ()))
        given["pattern"] = ItemPattern(**{**pattern, "groups": groups})
    return Item(id=raw["id"], task=raw["task"], alternative=raw.get("or", ""), **given)


def item_document(item: Item) -> dict[str, Any]:
    """Return an item as a document holds it."""
    raw: dict[str, Any] = {"id": item.id, "task": item.task}
    raw |= {name: getattr(item, name) for name in _PLAIN}
    raw |= {name: list(getattr(item, name)) for name in _LISTS}
    raw |= {"params": dict(item.params), "limits": dict(item.limits), "or": item.alternative}
    return raw | {"pattern": _pattern_document(item.pattern)}


def _pattern_document(pattern: ItemPattern) -> dict[str, Any]:
    raw: dict[str, Any] = {}
    if pattern.groups:
        raw["groups"] = [list(group) for group in pattern.groups]
    for name in ("floor", "ceiling", "bridge"):
        if (midi := getattr(pattern, name)) is not None:
            raw[name] = midi
    return raw | ({"cue": pattern.cue} if pattern.cue else {})


def dose_from(raw: Mapping[str, Any]) -> Dose:
    """Return the dose of a document as a value.

    Raises:
        ValueError: a date that does not exist.
        reedcore.errors.ValueOutOfRange: no days, weeks or sessions, or too many.
    """
    return Dose(
        kind=DoseKind(raw["kind"]),
        start=date.fromisoformat(raw["start"]),
        a_day=raw["a_day"],
        weekdays=tuple(sorted(raw["weekdays"])),
        weeks=raw["weeks"],
        off=tuple(date.fromisoformat(day) for day in raw.get("off", ())),
        times=tuple(time.fromisoformat(each) for each in raw.get("times", ())),
        trigger=raw.get("trigger", ""),
    )


def dose_document(dose: Dose) -> dict[str, Any]:
    """Return a dose as a document holds it."""
    raw = {
        "kind": dose.kind.value,
        "start": dose.start.isoformat(),
        "a_day": dose.a_day,
        "weekdays": list(dose.weekdays),
        "weeks": dose.weeks,
        "off": [day.isoformat() for day in dose.off],
    }
    if dose.trigger:
        raw["trigger"] = dose.trigger
    if dose.times:
        raw["times"] = [each.isoformat("minutes") for each in dose.times]
    return raw


def beside_from(raw: Mapping[str, Any]) -> BesideProgramme:
    """Return a programme beside the main one as a value.

    Raises:
        ValueError, reedcore.errors.ValueOutOfRange: as :func:`dose_from`.
    """
    return BesideProgramme(
        sort=raw["sort"],
        dose=dose_from(raw["dose"]),
        name=raw.get("name", ""),
        school=raw.get("school"),
        daily_for_life=raw.get("daily_for_life"),
    )


def beside_document(beside: BesideProgramme) -> dict[str, Any]:
    """Return a programme beside the main one in the form of a document."""
    raw: dict[str, Any] = {"sort": beside.sort, "dose": dose_document(beside.dose)}
    if beside.name:
        raw["name"] = beside.name
    for name in ("school", "daily_for_life"):
        if (value := getattr(beside, name)) is not None:
            raw[name] = value
    return raw


def doses_from(dose: Mapping[str, Any] | None, beside: Mapping[str, Any]) -> dict[str, Dose]:
    """Return the doses of all programmes in force together by id, the main one first; empty for a
    single held sound."""
    if not dose:
        return {}
    return {MAIN: dose_from(dose)} | {id: dose_from(own["dose"]) for id, own in beside.items()}


def programme_from(document: Mapping[str, Any]) -> Programme:
    """Return a document as a value.

    Raises:
        ValueError, reedcore.errors.ValueOutOfRange: as :func:`dose_from`.
    """
    practice = document.get("practice", {})
    beside = document.get("beside", {})
    return Programme(
        dose=dose_from(document["dose"]),
        items=tuple(item_from(each) for each in document.get("items", ())),
        sort=document.get("sort", "full"),
        school=document.get("school", "soft"),
        daily_for_life=document.get("daily_for_life", False),
        wording=document.get("wording", ADULT),
        answers={
            voice: Day(practice.get(voice.value, day)) for voice, day in USUAL_ANSWERS.items()
        },
        asks_medication=practice.get("medication", False),
        overrules=dict(document.get("overrules", {})),
        beside={id: beside_from(own) for id, own in beside.items()},
        taper=_taper_from(document["taper"]) if document.get("taper") else None,
    )


def programme_document(programme: Programme) -> dict[str, Any]:
    """Return a programme as its document, for storage and files."""
    raw: dict[str, Any] = {
        "format": FORMAT,
        "version": VERSION,
        "sort": programme.sort,
        "school": programme.school,
        "daily_for_life": programme.daily_for_life,
        "wording": programme.wording,
        "dose": dose_document(programme.dose),
        "practice": {
            **{voice.value: day.value for voice, day in programme.answers.items()},
            "medication": programme.asks_medication,
        },
        "items": [item_document(each) for each in programme.items],
        "overrules": dict(programme.overrules),
    }
    if programme.beside:
        raw["beside"] = {id: beside_document(own) for id, own in programme.beside.items()}
    if programme.taper:
        raw["taper"] = _taper_document(programme.taper)
    return raw


def _taper_from(raw: Mapping[str, Any]) -> TaperState:
    return TaperState(
        week=raw["week"],
        peak_s=raw["peak_s"],
        since=date.fromisoformat(raw["since"]),
        items=tuple(item_from(each) for each in raw["before"]["items"]),
        dose=dose_from(raw["before"]["dose"]),
    )


def _taper_document(taper: TaperState) -> dict[str, Any]:
    return {
        "week": taper.week,
        "peak_s": taper.peak_s,
        "since": taper.since.isoformat(),
        "before": {
            "items": [item_document(each) for each in taper.items],
            "dose": dose_document(taper.dose),
        },
    }
