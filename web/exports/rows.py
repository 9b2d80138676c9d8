"""Rows of the database as the values that the open formats are written from."""

from __future__ import annotations

from collections import defaultdict
from statistics import fmean
from typing import TYPE_CHECKING, Any

from django.utils import timezone

from reedcore.dose import DoseKind
from reedcore.formats.client_csv import ProgrammeRow, SessionRow
from reedcore.formats.fhir import FhirPatient, FhirPlan, PrescribedActivity
from reedcore.formats.trials_csv import TrialRow
from web.catalogue.queries import all_tasks
from web.practice.wording import title_of
from web.record.models import SelfReport, Trial
from web.record.prescribed_item import PrescribedRow
from web.record.programmes import current_programme, note_name

if TYPE_CHECKING:
    from reedcore.dose.slots import Dose
    from web.clients.models import Client
    from web.record.models import ProgrammeVersion, Session

#: Figures measured from sound.
HEARD_FROM = (Trial.Source.MICROPHONE, Trial.Source.SIMULATED, Trial.Source.FILE)


def breaks_of(source: str, total_s: float | None, breaks: list[Any]) -> int | None:
    """Return the number of breaks; None if the trial was not measured."""
    return None if source not in HEARD_FROM or total_s is None else len(breaks)


def trial_row(trial: Trial) -> TrialRow:
    """Return one try as a row of the CSV."""
    return TrialRow(
        try_id=str(trial.key),
        performed_at=timezone.localtime(trial.performed_at),
        client=trial.task.programme.client.name,
        programme_version=trial.task.programme.version,
        task=trial.task.task_code or f"hold {trial.task.sound}",
        note=note_name(trial.task),
        source=trial.source,
        target_s=trial.asked_s,
        seconds_counted=trial.task.counts,
        total_s=trial.total_s,
        steady_s=trial.steady_s,
        pitch_median_hz=trial.median_hz,
        pitch_error_cents=trial.error_cents,
        pitch_spread_cents=trial.spread_cents,
        pitch_drift_cents=trial.drift_cents,
        on_pitch_share=trial.share_on_pitch,
        breaks=breaks_of(trial.source, trial.total_s, trial.breaks),
        level_relative_dbfs=trial.level_mean_dbfs,
        snr_db=trial.snr_db,
        outcome=trial.outcome,
        not_judged_because=" ".join(
            part["why"] for part in trial.parts if part["verdict"] == trial.Outcome.NOT_JUDGED
        ),
        set_aside=trial.set_aside,
        **_figures_of_kind(trial.figures),
    )


#: Columns by figure, for single kinds of measure.
_FIGURES = {
    "span_semitones": "semitones", "gap_s": "gap_s", "notes_on_pitch": "notes_on_pitch",
    "notes_asked": "notes_asked", "voiced_s": "voiced_s", "voice_s": "load_s",
    "vibrations": "cycles", "round": "round", "late_ms": "late_ms",
    "breaths_inside": "breaths_inside", "pauses": "pauses", "pulses": "pulses",
    "pulse_unevenness": "unevenness", "repetitions": "reps", "minutes": "minutes",
    "breaths": "breaths", "count": "count", "lines": "lines", "circles": "circles",
    "z_hz": "z_hz", "z_onset_ms": "z_onset_ms",
}  # fmt: skip


def _figures_of_kind(figures: dict[str, Any]) -> dict[str, Any]:
    found = {column: figures.get(name) for column, name in _FIGURES.items()}
    jumps = figures.get("jumps")
    found["jumps"] = None if jumps is None else len(jumps)
    found["ticks"] = ", ".join(figures.get("ticks", []))
    return found


def trial_rows(client: Client) -> list[Any]:
    """Return every try of a client, oldest first."""
    trials = (
        Trial.objects.filter(client=client)
        .select_related("task__programme__client__clinic")
        .order_by("performed_at", "key")
    )
    return [trial_row(trial) for trial in trials]


def session_rows(client: Client) -> list[Any]:
    """Return every session of a client, oldest first, with its self-reports."""
    reports_of_session: dict[Any, dict[str, list[Any]]] = defaultdict(lambda: defaultdict(list))
    reports = SelfReport.objects.filter(client=client).order_by("said_at", "key")
    for session, kind, value in reports.values_list("session", "kind", "value"):
        reports_of_session[session][kind].append(value)
    tries: dict[Any, int] = defaultdict(int)
    for session in Trial.objects.filter(client=client).values_list("session", flat=True):
        tries[session] += 1
    sessions = client.sessions.select_related("programme", "helper").order_by("begun_at", "key")
    return [
        _session_row(client, each, reports_of_session[each.pk], tries[each.pk]) for each in sessions
    ]


def _session_row(client: Client, session: Session, reports: Any, tries: int) -> SessionRow:
    efforts, strains = reports[SelfReport.Kind.EFFORT], reports[SelfReport.Kind.STRAIN]
    return SessionRow(
        session_id=str(session.key),
        client=client.name,
        begun_at=timezone.localtime(session.begun_at),
        ended_at=timezone.localtime(session.ended_at) if session.ended_at else None,
        programme_version=session.programme.version,
        sort=session.sort,
        voice_today=session.voice,
        place=session.place,
        ending=session.ending,
        items_done=session.items_done,
        items_planned=session.items_planned,
        tries=tries,
        effort_mean_of_10=round(fmean(efforts), 2) if efforts else None,
        strain_said=any(each["said"] for each in strains) if strains else None,
        bother_of_10=reports[SelfReport.Kind.BOTHER][-1]
        if reports[SelfReport.Kind.BOTHER]
        else None,
        hours_since_medication=session.hours_since_medication,
        device=session.device,
        comments=" / ".join(
            [
                *reports[SelfReport.Kind.COMMENT],
                *(answer["words"] for answer in reports[SelfReport.Kind.ANSWER]),
            ]
        ),
        felt=" ".join(reports[SelfReport.Kind.FELT]),
        after_breath=" ".join(reports[SelfReport.Kind.BREATH]),
        depth_cm=reports[SelfReport.Kind.DEPTH][-1] if reports[SelfReport.Kind.DEPTH] else None,
        skipped=" ".join(reports[SelfReport.Kind.SKIPPED]),
        helped_by=session.helper.name if session.helper else "",
    )


def programme_rows(client: Client) -> list[Any]:
    """Return every task of every version, in order."""
    versions = client.programmes.order_by("version").prefetch_related("tasks")
    found = []
    for programme in versions:
        programme.client = client
        dose = _dose(programme)
        for task in programme.tasks.all():
            task.programme = programme
            found.append(
                ProgrammeRow(
                    client=client.name,
                    programme_version=programme.version,
                    from_day=timezone.localtime(programme.published_at).date(),
                    reason=programme.reason,
                    position=task.position,
                    task=task.task_code or f"hold {task.sound}",
                    measure=task.measure,
                    note=note_name(task),
                    sound=task.sound,
                    target_s=task.target_s,
                    seconds_counted=task.counts,
                    tries=task.tries,
                    sessions_a_day=dose.a_day if dose else None,
                    days_a_week=len(dose.weekdays) if dose else None,
                )
            )
    return found


def _dose(programme: ProgrammeVersion) -> Dose | None:
    """Return the dose; None for a single held sound or an on-demand dose."""
    prescribed = programme.prescribed
    if prescribed is None or prescribed.dose.kind is DoseKind.ON_DEMAND:
        return None
    return prescribed.dose


def person_of(client: Client) -> FhirPatient:
    """Return the client as the bundle's patient."""
    return FhirPatient(f"{client.clinic_id}-{client.pk}", client.name, client.born_on)


def plan_of(client: Client) -> FhirPlan | None:
    """Return the programme in force; None without one."""
    programme = current_programme(client)
    if programme is None:
        return None
    programme.client = client
    catalogue, dose = all_tasks(client.clinic), _dose(programme)
    tasks = []
    for task in programme.tasks.all():
        task.programme = programme
        words = title_of(PrescribedRow(task, catalogue), note=note_name(task))
        tasks.append(PrescribedActivity(f"{task.pk}", words, task.target_s, task.tries))
    return FhirPlan(
        version=programme.version,
        since=timezone.localtime(programme.published_at).date(),
        by=programme.published_by.get_full_name() or programme.published_by.username,
        a_day=dose.a_day if dose else None,
        days_a_week=len(dose.weekdays) if dose else None,
        tasks=tuple(tasks),
    )
