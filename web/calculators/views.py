"""The page of calculators."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.http import Http404, HttpResponse, JsonResponse, QueryDict
from django.shortcuts import render
from django.template.loader import render_to_string
from django.utils.translation import gettext

from reedcore.devices.tone import melody
from reedcore.formats.midi import write_midi
from reedcore.formats.wav import write_wav
from web.accounts.access import looking
from web.baseline.summaries import summary_of
from web.clients.queries import client_seen_by

from .forms import PatternForm
from .tools import TOOLS, answer, playable_drill

if TYPE_CHECKING:
    from reedcore.baseline.sheet import BaselineSummary
    from reedcore.pitch.patterns import PatternDrill
    from web.accounts.requests import SignedInRequest
    from web.calculators.tools import Tool
    from web.clients.models import Client

#: Longer sounds are offered as MIDI only.
LONGEST_SOUND_S = 300.0


@looking
def calculators_page(request: SignedInRequest) -> HttpResponse:
    """Return every calculator with its usual figures; ``?tool=…&part=1`` gives just one of them."""
    client, found = _client(request)
    chosen = request.GET.get("tool")
    a4_hz = request.user.clinic.a4_hz
    panels = [
        _panel(tool, request.GET if tool.code == chosen else None, client, found, a4_hz)
        for tool in TOOLS
    ]
    if request.GET.get("part") == "1":
        panel = next((each for each in panels if each["tool"].code == chosen), None)
        if panel is None:
            raise Http404
        return JsonResponse({"stage": render_to_string("calculators/_panel.html", panel, request)})
    clients = request.user.visible_clients().filter(archived_at=None).only("pk", "name")[:200]
    context = {"panels": panels, "client": client, "clients": clients}
    return render(request, "calculators/all.html", context)


def _client(request: SignedInRequest) -> tuple[Any, ...]:
    pk = request.GET.get("client", "")
    if not pk.isdecimal():
        return None, None
    client = client_seen_by(request.user, int(pk))
    sheet = client.baselines.select_related("client__clinic").first()
    return client, summary_of(sheet) if sheet else None


def _panel(
    tool: Tool,
    data: QueryDict | None,
    client: Client | None,
    found: BaselineSummary | None,
    a4_hz: float,
) -> dict[str, Any]:
    usual = {name: field.initial for name, field in tool.form.base_fields.items()}
    usual = {name: value if value is not None else "" for name, value in usual.items()}
    for name, field in tool.form.base_fields.items():
        if hasattr(field, "choices"):
            usual[name] = field.choices[0][0]
    form = tool.form(data or usual)
    found_answer = None
    if form.is_valid():
        found_answer = answer(tool.code, form.cleaned_data, client=client, found=found, a4_hz=a4_hz)
    query = "&".join(f"{name}={form[name].value()}" for name in form.fields).replace("#", "%23")
    return {"tool": tool, "form": form, "answer": found_answer, "query": query, "client": client}


def _drill(request: SignedInRequest) -> PatternDrill:
    form = PatternForm(request.GET)
    if not form.is_valid():
        raise Http404
    return form.cleaned_data["drill"]


@looking
def pattern_midi(request: SignedInRequest) -> HttpResponse:
    """Return the pattern for any keyboard or notation program."""
    drill = _drill(request)
    data = write_midi(playable_drill(drill), beat_s=drill.beat_s, title=gettext("Growing pattern"))
    return HttpResponse(
        data,
        content_type="audio/midi",
        headers={"Content-Disposition": 'attachment; filename="growing-pattern.mid"'},
    )


@looking
def pattern_wav(request: SignedInRequest) -> HttpResponse:
    """Return the pattern as it sounds."""
    drill = _drill(request)
    if drill.seconds > LONGEST_SOUND_S:
        raise Http404
    line = [
        (note.hz(a4_hz=request.user.clinic.a4_hz) if note else None, beats * drill.beat_s)
        for note, beats in playable_drill(drill)
    ]
    return HttpResponse(write_wav(melody(line), 44_100), content_type="audio/wav")
