"""Small synthetic histories: each function makes one event, a number of days ago."""

from datetime import UTC, datetime, timedelta
from uuid import UUID

from reedcore.catalogue import shipped_tasks
from reedcore.history import History, Report, SessionRecord, StopRecord, TrialRecord, Version
from reedcore.programme.document_values import doses_from, item_from, programme_from
from reedcore.programme.prescribed_item import PrescribedItem
from tests.documents import new_item

NOW = datetime(2026, 11, 25, 12, 0, tzinfo=UTC)
TODAY = NOW.date()
DOSE = {"kind": "slots", "start": "2026-09-01", "a_day": 1, "weekdays": list(range(7)), "weeks": 20}


def day(back):
    return TODAY - timedelta(days=back)


def at(back, minute=0):
    return NOW - timedelta(days=back) + timedelta(minutes=minute)


def prescribed_item(key=7, code="straw_hold", note=53, seconds=8.0, **more):
    task = shipped_tasks()[code]
    item = new_item(task, id=more.pop("item_id", "a"))
    if seconds:
        item["params"] |= {"seconds": seconds}
    made = {"sound": "oo", "note_midi": note, "target_s": seconds, "tries": 4}
    return PrescribedItem(
        key,
        1,
        code,
        task.measure,
        item=item_from(item),
        item_id=item["id"],
        shipped=task,
        **made | more,
    )


def version(number=1, back=40, tasks=None, dose=DOSE, **document):
    document = {"dose": dose, "items": [], **document} if dose else {}
    return Version(
        number, at(back), day(back), doses_from(dose, document.get("beside", {})),
        programme_from(document) if document else None,
        tuple(tasks) if tasks is not None else (prescribed_item(),),
    )  # fmt: skip


def session(back, *, sort="full", kind="usual", ending="done", done=1, planned=1):
    return SessionRecord(UUID(int=back + 1), at(back), day(back), sort, kind, ending, done, planned)


def trial(back, outcome="met", held=9.0, *, task=7, minute=0, **more):
    return TrialRecord(
        UUID(int=10_000 * (back + 1) + minute + 100 * task), task, UUID(int=back + 1),
        at(back, minute), day(back), outcome, total_s=held, **more,
    )  # fmt: skip


def report(back, kind, value, task=7):
    key = UUID(int=5_000_000 + 100 * back + len(kind))
    return Report(key, kind, value, at(back), day(back), UUID(int=back + 1), task)


def stop(back, *, flags=("strain",), pauses=True, cleared=None, **more):
    return StopRecord(
        UUID(int=900 + back), flags, "no_more_voicing", pauses, at(back), at(back),
        cleared_at=None if cleared is None else at(cleared), **more,
    )  # fmt: skip


def practised(days=range(14, 0, -1), *, outcome="met", held=9.0, tries=4, effort=3):
    return {
        "versions": (version(),),
        "sessions": tuple(session(back) for back in days),
        "trials": tuple(
            trial(back, outcome, held, minute=minute) for back in days for minute in range(tries)
        ),
        "reports": tuple(report(back, "effort", effort) for back in days),
    }


def history(**parts):
    return History("Europe/Lisbon", **parts)
