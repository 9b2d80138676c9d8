"""The baseline sheet: one screen, driven by keys; every part of it comes back as HTML."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any
from uuid import UUID, uuid4

from django.contrib import messages
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.template.loader import render_to_string
from django.utils import timezone
from django.utils.translation import gettext
from django.views.decorators.http import require_GET, require_POST

from reedcore.baseline.steps import BY_CODE, PASSAGE, STEPS, Capture
from reedcore.errors import Refusal
from reedcore.formats.wav import read_wav, write_wav
from web.accounts.access import assisting, measuring
from web.clients.queries import client_seen_by
from web.screening.queries import blocks
from web.screening.wording import BLOCKS
from web.sound.consumers import KeyTaken
from web.sound.offers import offer_simulated
from web.sound.uploads import TakeFileForm
from web.ui.wording import sentence

from .. import actions, presenters
from ..forms import VOLUME_KINDS, MeterForm, entry_form, typed_form
from ..models import BaselineTrial
from ..queries import baseline_seen_by, baseline_trial_seen_by, reference_rows
from ..simulated import meter_reading, simulated_take, spirometer_reading
from ..summaries import summary_of

if TYPE_CHECKING:
    from reedcore.baseline.steps import BaselineStep
    from web.accounts.requests import SignedInRequest
    from web.baseline.models import Baseline


@measuring
def baselines(request: SignedInRequest, pk: int) -> HttpResponse:
    """Return the sheets of a client; two of them side by side; a new one."""
    client = client_seen_by(request.user, pk)
    stands = blocks(client, on=timezone.localdate())
    if request.method == "POST":
        if stands:
            messages.error(
                request, gettext("No baseline was started. {value}").format(value=BLOCKS[stands[0]])
            )
            return redirect("baseline:all", pk=pk)
        sheet = actions.begin_baseline(client, by=request.user)
        return redirect("baseline:sheet", pk=sheet.pk)
    sheets = list(
        client.baselines.select_related("client__clinic", "begun_by").prefetch_related("trials")
    )
    picked = [sheet for sheet in sheets if str(sheet.pk) in request.GET.getlist("sheet")][:2]
    if len(picked) < 2 and len(sheets) > 1:
        picked = sheets[:2]
    context = {
        "client": client,
        "sheets": sheets,
        "picked": picked,
        "compared": presenters.comparison(picked[1], picked[0], reference_rows(client.clinic))
        if len(picked) == 2
        else [],
        "blocks": [BLOCKS[block] for block in stands],
    }
    return render(request, "baseline/baselines.html", context)


@measuring
@require_GET
def sheet(request: SignedInRequest, pk: int) -> HttpResponse:
    """Return the whole sheet, or only its changing part."""
    baseline = baseline_seen_by(request.user, pk)
    step = BY_CODE.get(request.GET.get("step", ""), STEPS[0])
    context = _context(baseline, step)
    if request.GET.get("part") == "1":
        return JsonResponse({"stage": render_to_string("baseline/_sheet.html", context, request)})
    context["offer_simulated"] = offer_simulated()
    return render(request, "baseline/sheet.html", context)


def rendered_sheet(baseline: Baseline, step: BaselineStep, *, should_move_on: bool = False) -> str:
    """Return the changing part; with ``move_on`` at the next step once this one is done."""
    return render_to_string(
        "baseline/_sheet.html", _context(baseline, step, should_move_on=should_move_on)
    )


def _context(
    baseline: Baseline,
    step: BaselineStep,
    *,
    should_move_on: bool = False,
    form: Any = None,
    meter_form: Any = None,
) -> dict[str, Any]:
    client = baseline.client
    trials = list(baseline.trials.all())
    found = summary_of(baseline, trials)
    out = presenters.excluded_steps(client, on=found.on)
    lines = presenters.step_lines(baseline, trials, out)
    # A level is complete only with the meter's reading.
    done = lines[STEPS.index(step)].is_done and step.capture is not Capture.LEVEL
    if step.code in out or (should_move_on and done):
        step = presenters.next_step(lines, step)
    of_step = presenters.trial_lines(step, trials, client)
    kept = [line for line in of_step if line.trial.discarded_at is None]
    if meter_form is None and step.capture is Capture.LEVEL and kept:
        meter_form = _meter_form(baseline, kept[-1].trial)
    return {
        "client": client,
        "baseline": baseline,
        "step": step,
        "lines": lines,
        "next_step": presenters.next_step(lines, step),
        "step_before": presenters.step_before(lines, step),
        "trials": of_step,
        "last": kept[-1] if kept else None,
        "passage": PASSAGE if step.code == "reading" else "",
        "typed": typed_form(step, client),
        "entries": form or entry_form(step, baseline, found),
        "meter": meter_form,
        "volume_kinds": VOLUME_KINDS,
        "volume_is": baseline.entries.get("volume_is", VOLUME_KINDS[0][0]),
        "rows": presenters.derived_rows(found, baseline, reference_rows(client.clinic)),
        "calibration": presenters.calibration_line(baseline, trials),
    }


def _meter_form(baseline: Baseline, trial: BaselineTrial) -> MeterForm:
    """Return the form, filled by the simulated meter if the sound was simulated too."""
    simulated = trial.source == BaselineTrial.Source.SIMULATED
    reading = meter_reading(trial.figures["level_dbfs"], seed=trial.key.int % 2**31)
    return MeterForm(
        initial={
            "meter_db_spl": f"{reading:.1f}" if simulated else None,
            "weighting": "C",
            "distance_cm": f"{baseline.distance_m * 100:g}",
        }
    )


def _open_sheet(
    request: Any, pk: int, step_code: str | None = None
) -> tuple[Baseline, BaselineStep | None]:
    """Return the sheet and the step; no step where a caution or a block on record forbids it."""
    baseline = baseline_seen_by(request.user, pk)
    return baseline, allowed_step(baseline, step_code)


def allowed_step(baseline: Baseline, step_code: Any) -> BaselineStep | None:
    """Return the step of this code; None if it is unknown or the record forbids it."""
    step, today = BY_CODE.get(step_code), timezone.localdate()
    if step is None or step.code in presenters.excluded_steps(baseline.client, on=today):
        return None
    captures = step.capture is not Capture.NOTHING
    return None if captures and blocks(baseline.client, on=today) else step


def _stage(baseline: Baseline, step: Any, **how: Any) -> HttpResponse:
    return JsonResponse({"stage": rendered_sheet(baseline, step, **how)})


def _refusal(words: Any) -> HttpResponse:
    return JsonResponse({"sentence": words}, status=422)


def _form_again(baseline: Baseline, step: Any, **forms: Any) -> HttpResponse:
    """Return the same part with the input and its errors."""
    html = render_to_string("baseline/_sheet.html", _context(baseline, step, **forms))
    return JsonResponse({"stage": html, "wrong": True})


def _first_error(form: Any) -> str:
    return " ".join(str(error) for errors in form.errors.values() for error in errors)


@assisting
@require_POST
def recording(request: HttpRequest, pk: int, code: str) -> HttpResponse:
    """Return a trial from a WAV file."""
    baseline, step = _open_sheet(request, pk, code)
    form = TakeFileForm(request.POST, request.FILES)
    if step is None or not step.capture.is_heard:
        return _refusal(gettext("This step has no recording."))
    if not form.is_valid():
        return _refusal(_first_error(form))
    try:
        wav = read_wav(form.cleaned_data["recording"].read())
        actions.record_sound(
            baseline, step, key=form.cleaned_data["key"], source=BaselineTrial.Source.FILE,
            samples=wav.samples, rate_hz=wav.rate_hz,
        )  # fmt: skip
    except Refusal as refusal:
        return _refusal(sentence(refusal))
    except KeyTaken:
        return _refusal(gettext("This trial has no valid ID. Reload the page."))
    return _stage(baseline, step, should_move_on=True)


@assisting
@require_GET
def simulate_trial(request: HttpRequest, pk: int, code: str) -> HttpResponse:
    """Return a made-up client's trial at this step, for machines without a microphone."""
    baseline, step = _open_sheet(request, pk, code)
    seed = request.GET.get("seed", "1")
    if not offer_simulated() or step is None or not step.capture.is_heard or not seed.isdecimal():
        return _refusal(gettext("The simulated voice does not support this task."))
    clip = simulated_take(baseline.client, step, seed=int(seed) % 2**31)
    return HttpResponse(write_wav(clip.samples, clip.rate_hz), content_type="audio/wav")


@assisting
@require_POST
def enter_figure(request: HttpRequest, pk: int, code: str) -> HttpResponse:
    """Return a figure that was read off elsewhere; odd ones ask to be confirmed."""
    baseline, step = _open_sheet(request, pk, code)
    form = typed_form(step, baseline.client, request.POST) if step else None
    if step is None or form is None:
        return _refusal(gettext("This step has no value to type."))
    if not form.is_valid():
        answer = {"sentence": _first_error(form), "asks": form.needs_confirmation}
        return JsonResponse(answer, status=422)
    if step.capture is Capture.VOLUME:
        baseline = _keep_volume_kind(baseline, request.POST.get("volume_is"))
    try:
        actions.record_typed(baseline, step, key=_key(request), figures=form.kept())
    except KeyTaken:
        return _refusal(gettext("This trial has no valid ID. Reload the page."))
    return _stage(baseline, step, should_move_on=True)


def _key(request: Any) -> UUID:
    try:
        return UUID(request.POST.get("key", ""))
    except ValueError:
        return uuid4()


def _keep_volume_kind(baseline: Baseline, kind: Any) -> Baseline:
    if kind in dict(VOLUME_KINDS):
        return actions.keep_entries(baseline, {"volume_is": kind})
    return baseline


@assisting
@require_POST
def spirometer(request: HttpRequest, pk: int) -> HttpResponse:
    """Return one full breath into the (simulated) spirometer."""
    baseline, step = _open_sheet(request, pk, "volume")
    if step is None:
        return _refusal(gettext("A caution on the record stops this step."))
    if not offer_simulated():
        return _refusal(gettext("No spirometer is connected. Type the reading."))
    key = _key(request)
    reading = spirometer_reading(baseline.client, seed=key.int % 2**31)
    baseline = _keep_volume_kind(baseline, request.POST.get("volume_is"))
    actions.record_typed(
        baseline,
        step,
        key=key,
        figures={"volume_ml": reading},
        source=BaselineTrial.Source.SIMULATED,
    )
    return _stage(baseline, step, should_move_on=True)


@assisting
@require_POST
def entries(request: HttpRequest, pk: int, code: str) -> HttpResponse:
    """Store the figures of a step without sound."""
    baseline, step = _open_sheet(request, pk, code)
    trials = list(baseline.trials.all())
    form = entry_form(step, baseline, summary_of(baseline, trials), request.POST) if step else None
    if step is None or form is None:
        return _refusal(gettext("This step has no value to type."))
    if not form.is_valid():
        return _form_again(baseline, step, form=form)
    done = sorted({*baseline.entries.get("done", []), step.code})
    baseline = actions.keep_entries(baseline, {**form.kept(), "done": done})
    return _stage(baseline, step, should_move_on=True)


@assisting
@require_POST
def calibrate(request: HttpRequest, pk: int) -> HttpResponse:
    """Return the meter's reading of the sound that was recorded last."""
    baseline, step = _open_sheet(request, pk, "calibration")
    trial = baseline.trials.filter(step="calibration", discarded_at=None).last()
    form = MeterForm(request.POST)
    if step is None:
        return _refusal(gettext("A caution on the record stops this step."))
    if trial is None:
        return _refusal(gettext("Record the sound first, while you read the meter."))
    if not form.is_valid():
        return _form_again(baseline, step, meter_form=form)
    baseline.distance_m = form.cleaned_data["distance_cm"] / 100
    baseline.save(update_fields=["distance_m"])
    trial.baseline = baseline
    try:
        actions.record_calibration(
            trial, by=request.user, meter_db_spl=form.cleaned_data["meter_db_spl"],
            weighting=form.cleaned_data["weighting"],
        )  # fmt: skip
    except Refusal as refusal:
        return _refusal(sentence(refusal))
    following = STEPS[STEPS.index(step) + 1]
    return _stage(baseline, following)


@assisting
@require_POST
def trial(request: HttpRequest, key: UUID, what: str) -> HttpResponse:
    """Leave a trial out, take it back, add a note, or mark it as the best."""
    found = baseline_trial_seen_by(request.user, key)
    words = request.POST.get("words", "").replace("\x00", "").strip()[:300]
    if what in ("discard", "restore"):
        actions.discard_trial(found, is_discarded=what == "discard")
    elif what == "note":
        actions.note_trial(found, note=words)
    elif what == "choose":
        if not words and not found.chosen:
            return _refusal(gettext("Enter why this trial counts instead of the best one."))
        actions.choose_trial(found, because=words)
    return _stage(found.baseline, BY_CODE[found.step])


@assisting
@require_POST
def close(request: HttpRequest, pk: int) -> HttpResponse:
    """Close the sheet and go to the targets."""
    baseline = baseline_seen_by(request.user, pk)
    actions.close_baseline(baseline)
    return redirect("baseline:targets", pk=baseline.client_id)
