"""All that is on record of a client's practice, as the one file that other programs read."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.utils import timezone

from reedcore.history import file
from web.catalogue.queries import all_tasks
from web.clients.models import Client
from web.record.client_context import bests, person_of
from web.record.history import whole_history
from web.record.models import RuleSettings

if TYPE_CHECKING:
    from web.baseline.models import Baseline
    from web.notes.models import ClinicalNote

#: Record fields, without the practice link's secrets.
RECORD = (
    "pronouns", "occupation", "voice_demands", "referral_reason", "referrer", "diagnosis",
    "laryngeal_finding", "examined_on", "voice_changed_on", "voice_rest_until", "loud_from",
    "cautions", "caution_entries", "complaint", "voice", "spelling", "contact", "contact_detail",
    "reminders", "grown_up", "props", "archived_at", "created_at", "edition",
)  # fmt: skip
TRIAL = ("step", "source", "made_at", "figures", "reasons", "snr_db", "note", "discarded_at",
         "chosen", "chosen_because")  # fmt: skip
TARGET = ("kind", "rule", "decision", "values", "proposed", "inputs", "counts", "reason",
          "decided_at")  # fmt: skip


def whole_file(client: Client) -> file.PracticeFile:
    """Return the file as values."""
    catalogue = all_tasks(client.clinic)
    history = whole_history(client, catalogue)
    person, found = person_of(client)
    rules = RuleSettings.objects.filter(client=client).first()
    return file.PracticeFile(
        format="still-reed-practice",
        version=3,
        written_at=timezone.localtime(),
        client={
            "name": client.name,
            "born_on": client.born_on,
            "age_band": client.age_band,
            "voice": client.voice,
            "goals": client.goals,
        },
        time_zone=history.zone,
        a4_hz=client.clinic.a4_hz,
        record={name: getattr(client, name) for name in RECORD},
        person=person,
        bests=bests(client, found),
        rules=rules.changed if rules else {},
        own_tasks=[
            file.OwnTaskRecord(row.family, row.data) for row in client.clinic.own_tasks.all()
        ],
        screens=list(history.screens),
        baselines=[_baseline(sheet) for sheet in client.baselines.prefetch_related("trials")],
        targets=[
            {name: getattr(target, name) for name in TARGET} for target in client.targets.all()
        ],
        programmes=[file.version_record(each) for each in history.versions],
        sessions=list(history.sessions),
        trials=list(history.trials),
        reports=list(history.reports),
        stops=list(history.stops),
        decisions=list(history.decisions),
        notes=[_note(note) for note in client.notes.prefetch_related("addenda__added_by")],
        goal_s=history.goal_s,
    )


def _baseline(sheet: Baseline) -> dict[str, Any]:
    return {
        "begun_at": sheet.begun_at,
        "closed_at": sheet.closed_at,
        "distance_m": sheet.distance_m,
        "entries": sheet.entries,
        "trials": [
            {"key": str(trial.key)} | {name: getattr(trial, name) for name in TRIAL}
            for trial in sheet.trials.all()
        ],
    }


def _note(note: ClinicalNote) -> dict[str, Any]:
    signed = note.signed_by.get_full_name() if note.signed_by else None
    return {
        "kind": note.kind,
        "first": note.first,
        "last": note.last,
        "words": note.words,
        "made_at": note.made_at,
        "signed_at": note.signed_at,
        "signed_by": signed,
        "figures": note.figures,
        "addenda": [
            {"words": each.words, "added_at": each.added_at, "by": each.added_by.get_full_name()}
            for each in note.addenda.all()
        ],
    }
