"""For every client of the demo: board, results, report, CSV, JSON and command line agree."""

import csv
import io
import json
import re
from datetime import UTC, datetime
from pathlib import Path

import jsonschema
import pytest
from django.utils import timezone

from reedcore.cli.commands import main
from reedcore.history import file
from tests.web.signing_in import signed_in
from web.accounts.models import User
from web.clients.models import Client
from web.decisions.board import lines_for
from web.decisions.client_status import statuses
from web.decisions.proposals import proposed_for
from web.demo import people
from web.demo.loader import load_demo
from web.notes.facts import facts_of
from web.record.models import PrescribedTask, Trial
from web.results.figures import plain

NOW = datetime(2026, 11, 25, 9, 0, tzinfo=UTC)
PLACES = {"value": 1, "error": 0, "spread": 0, "level": 1, "effort": 0}


def both_answers(browser, client, tmp_path, capsys):
    text = browser.get(f"/clients/{client.pk}/practice.json").content
    path = tmp_path / "practice.json"
    path.write_bytes(text)
    capsys.readouterr()
    assert main(["decide", str(path)]) == 0
    return text, json.loads(capsys.readouterr().out)


#: Clients in two small groups, and all of them together.
LOTS = (
    pytest.param(people.PEOPLE[5::9], id="others"),
    pytest.param(people.PEOPLE[4::8], id="three"),
    pytest.param(people.PEOPLE, id="all", marks=pytest.mark.long),
)


@pytest.mark.django_db
@pytest.mark.parametrize("lot", LOTS)
def test_every_place_gives_the_same_answer_for_every_client(
    lot, monkeypatch, settings, tmp_path, capsys
):
    monkeypatch.setattr("web.demo.loader.PEOPLE", lot)
    settings.SIMULATED_BREATH_S = 13.0  # Holds as long as those of the demo.
    monkeypatch.setattr("django.utils.timezone.now", lambda: NOW)
    load_demo(NOW.date())
    browser = signed_in(User.objects.get(username="imre"))
    checker = jsonschema.Draft202012Validator(file.schema())
    lines = {each.client: each for each in lines_for(User.objects.get(username="imre"), now=NOW)}
    clients = Client.objects.select_related("clinic")
    assert clients.count() == len(lot)
    series = 0
    for client in clients:
        text, answer = both_answers(browser, client, tmp_path, capsys)
        checker.validate(json.loads(text))
        _board_and_command_line(client, lines.get(client.pk), answer)
        table = _csv(browser, client)
        assert len(table) == len(json.loads(text)["trials"])
        series += _results_report_and_file(browser, client, answer, table)
    assert series >= len(lot)


def _results_report_and_file(browser, client, answer, table):
    today = timezone.localdate(timezone=client.zone)
    report = facts_of(client, first=today.replace(day=1), last=today)
    told = {each.series.key: each.lines for each in report.practised}
    for series in answer["series"]:
        page = browser.get(f"/clients/{client.pk}/", {"series": series["key"]}).context["page"]
        assert page.series.key == series["key"]
        _figures(page.table, series)
        if series["key"] in told:
            # A report compares once, a page is viewed many times: another limit.
            words = [_words(line)[:-1] for line in told[series["key"]]]
            assert words == [_words(line)[:-1] for line in page.table], client
        _best_of(table, client, series)
    return len(answer["series"])


def _board_and_command_line(client, line, answer):
    status = statuses([client], now=NOW)[client.pk]
    same = ("step", "reason", "facts", "to_seconds", "task")
    assert [{name: each[name] for name in same} for each in status.proposed] == [
        {name: each[name] for name in same} for each in answer["proposals"]
    ]
    stays = status.fortnight.pop("stays")
    assert len(stays) == len(answer["stays"])
    assert status.fortnight == {**answer["fortnight"], "dose": answer["dose"]}
    assert [each.proposal.step.value for each in proposed_for(client)] == [
        each["step"] for each in answer["proposals"]
    ]
    moves = [each["to"] for each in status.proposed]
    assert moves == [
        [each["moves_from"], each["moves_to"]] if each["moves_to"] else None
        for each in answer["proposals"]
    ]
    assert (line is None) == (client.archived_at is not None)
    if line:
        steps = re.findall(r'name="take" value="(\w+)', line.html)
        assert steps == [each["step"] for each in answer["proposals"][:1]]


def _csv(browser, client):
    sent = browser.get(f"/clients/{client.pk}/tries.csv").content.decode()
    return list(csv.DictReader(io.StringIO(sent)))


def _figures(table, series):
    by_code = {line.code: line for line in table}
    assert set(by_code) == {each["code"] for each in series["figures"]} | {"share"}
    for each in series["figures"]:
        line, places = by_code[each["code"]], PLACES[each["code"]]
        signed = each["code"] in ("error", "level")
        for shown, value in (
            (line.baseline, each["baseline"]), (line.best, each["best"]), (line.week, each["week"])
        ):  # fmt: skip
            assert shown == ("–" if value is None else plain(value, places, is_signed=signed))
        assert line.real.startswith({True: "yes", False: "no", None: "–"}[each["real"]])
    for shown, (met, judged) in (
        (by_code["share"].baseline, series["at_first"]), (by_code["share"].week, series["this_week"])
    ):  # fmt: skip
        assert shown == (f"{met} of {judged}" if judged else "–")


def _words(line):
    return line.code, line.baseline, line.best, line.week, line.change, line.real


def _best_of(table, client, series):
    """Return the longest hold and the number of tries from the CSV alone."""
    code, note, sound, measure = series["key"].split("/")
    tasks = PrescribedTask.objects.filter(
        programme__client=client, task_code=code, note_midi=note or None, sound=sound,
        measure=measure,
    )  # fmt: skip
    keys = {str(key) for key in Trial.objects.filter(task__in=tasks).values_list("key", flat=True)}
    rows = [row for row in table if row["try_id"] in keys]
    assert len(rows) == series["trials"]
    if measure != "hold" or {row["seconds_counted"] for row in rows} != {"total"}:
        return
    held = [float(row["total_s"]) for row in rows if row["total_s"]]
    best = next(each["best"] for each in series["figures"] if each["code"] == "value")
    assert best == max(held, default=None)


def test_a_file_of_another_version_is_refused_with_one_line(tmp_path, capsys):
    path = Path(tmp_path) / "old.json"
    path.write_text('{"format": "still-reed-practice", "version": 1}')
    assert main(["decide", str(path)]) == 2
    assert "export it again" in capsys.readouterr().err
