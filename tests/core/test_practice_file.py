"""A client's practice as a file: written and read back, and errors of other files."""

import json
from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from uuid import UUID

import jsonschema
import pytest

from reedcore.catalogue import shipped_tasks
from reedcore.checks import Person
from reedcore.cli.commands import main
from reedcore.errors import NotAPracticeFile
from reedcore.formats.wav import write_wav
from reedcore.history import Report, SessionRecord, TrialRecord, file
from reedcore.history.values import DecisionRecord, StopRecord
from reedcore.safety import Caution, Forbidden, Hazard
from reedcore.synthvoice import HeldVoice, VoicedPart, speak
from tests.documents import empty_document, new_item

NOW = datetime(2026, 11, 25, 9, 30, tzinfo=UTC)
SINCE = NOW - timedelta(days=40)


def programme(**params):
    item = new_item(shipped_tasks()["straw_hold"], id="a")
    item["params"] |= {"seconds": 8.0, "reps": 4} | params
    item["notes"] = [53]
    document = empty_document(SINCE.date()) | {"items": [item]}
    document["dose"] |= {"a_day": 1, "weekdays": list(range(7)), "weeks": 20}
    return document


def test_a_file_with_the_names_of_version_2_is_read():
    stop = StopRecord(UUID(int=5), ("dizzy",), "light", False, NOW, NOW, cancelled_at=NOW)
    decision = DecisionRecord("advance", "share", NOW, evidence=("a", "b"), created_version=1)
    now = replace(practice(), stops=[stop], decisions=[decision])
    old = json.loads(file.write_practice_file(now)) | {"version": 2}
    old["stops"][0]["taken_back_at"] = old["stops"][0].pop("cancelled_at")
    old["decisions"][0]["rests_on"] = old["decisions"][0].pop("evidence")
    old["decisions"][0]["made"] = old["decisions"][0].pop("created_version")
    assert file.read_practice_file(json.dumps(old).encode()) == now


def practice_rows(days, outcome="met", held_s=9.0):
    sessions, trials = [], []
    for back in days:
        at = NOW - timedelta(days=back)
        key = UUID(int=back + 1)
        sessions.append(SessionRecord(key, at, at.date(), "full", "usual", "done", 1, 1))
        trials += [
            TrialRecord(
                UUID(int=1000 * (back + 1) + place), 7, key, at + timedelta(minutes=place),
                at.date(), outcome, total_s=held_s + place / 10,
            )
            for place in range(4)
        ]  # fmt: skip
    return sessions, trials


def efforts(sessions):
    return [
        Report(UUID(int=each.key.int + 500), "effort", 3, each.at, each.on, each.key, 7)
        for each in sessions
    ]


def practice(days=range(14, 0, -1), **more):
    sessions, trials = practice_rows(days, **more)
    task = file.TaskRecord(7, "straw_hold", "hold", "oo", 53, 8.0, "total", 4, "a")
    version = file.VersionRecord(1, SINCE, SINCE.date(), "", False, programme(), [task])
    return file.PracticeFile(
        format=file.FORMAT, version=file.VERSION, written_at=NOW, client={"name": "Wenna Astley"},
        time_zone="Europe/Lisbon", a4_hz=440.0, record={},
        person=Person(
            cautions=frozenset({Caution.PRESSURE}),
            forbidden=(Forbidden(Hazard.BREATH_HOLD, Caution.PRESSURE),),
        ),
        bests={"hold": 9.0}, rules={}, own_tasks=[], screens=[], baselines=[], targets=[],
        programmes=[version], sessions=sessions, trials=trials, reports=efforts(sessions), stops=[], decisions=[],
    )  # fmt: skip


def test_a_written_file_is_valid_and_can_be_read_again():
    whole = practice()
    text = file.write_practice_file(whole)
    assert file.read_practice_file(text) == whole
    schema = file.schema()
    jsonschema.Draft202012Validator.check_schema(schema)
    jsonschema.Draft202012Validator(schema).validate(json.loads(text))


@pytest.mark.parametrize(
    ("spoil", "where"),
    [
        (lambda made: made["trials"][0].update(total_s="long"), "trials.0.total_s"),
        (lambda made: made["sessions"][0].pop("ending"), "sessions.0"),
        (lambda made: made.update(version=1), "version"),
        (lambda made: made["person"].update(cautions=["haste"]), "person.cautions"),
        (lambda made: made["trials"][0].update(outcome="fine"), "trials.0.outcome"),
        (lambda made: made["trials"][0].update(breaks=[{}]), "trials.0.breaks"),
        (lambda made: made.update(time_zone="Moon/Sea"), "time_zone"),
        (lambda made: made.update(time_zone="../etc"), "time_zone"),
        (lambda made: made["programmes"][0]["document"].update(dose=3), "programmes.0.document"),
        (
            lambda made: made["programmes"][0]["document"]["items"][0].update(params=[]),
            "programmes.0",
        ),
        (lambda made: made["reports"][0].update(value="much"), "reports.0.value"),
        (lambda made: made["reports"][0].update(kind="strain", value={}), "reports.0.value"),
        (lambda made: made.update(own_tasks=[{"family": "breath", "data": {}}]), "own_tasks"),
    ],
)
def test_an_invalid_entry_is_reported_with_its_place(spoil, where):
    made = json.loads(file.write_practice_file(practice()))
    spoil(made)
    with pytest.raises(NotAPracticeFile) as refused:
        file.read_practice_file(json.dumps(made).encode())
    assert refused.value.facts["where"].startswith(where)


@pytest.fixture
def run(tmp_path, capsys):
    def run(command, content, *more):
        path = tmp_path / "in.json"
        path.write_bytes(content if isinstance(content, bytes) else json.dumps(content).encode())
        assert main([command, str(path), *map(str, more)]) == 0
        return json.loads(capsys.readouterr().out)

    return run


def test_decide_advances_a_steady_climber_and_says_on_what(run):
    said = run("decide", file.write_practice_file(practice()))
    (proposal,) = said["proposals"]
    assert (proposal["step"], proposal["moves_from"], proposal["moves_to"]) == (
        "advance", "8 s", "9 s",
    )  # fmt: skip
    assert set(proposal["evidence"]) <= {str(each.key) for each in practice().trials}
    assert said["adherence"] == 1.0
    (series,) = said["series"]
    assert series["figures"][0]["best"] == pytest.approx(9.3)
    # No practice for some days.
    later = run("decide", file.write_practice_file(practice()), "--today", date(2026, 12, 1))
    assert later["proposals"][0]["reason"] == "days_missed"


def test_check_reads_the_record_beside_the_programme(run, tmp_path):
    record = tmp_path / "record.json"
    record.write_bytes(file.write_practice_file(practice()))
    alone = {each["code"] for each in run("check", programme())["findings"]}
    document = programme(seconds=14.0)
    with_record = run("check", document, "--record", record)["findings"]
    assert "over_best" in {each["code"] for each in with_record} - alone


def test_plan_adds_up(run):
    said = run("plan", programme())
    assert said["voiced_s"] == 4 * 8.0
    assert said["total_s"] == sum(each["total_s"] for each in said["items"])
    assert said["items"][0]["sounds"][0] == [53, 2.0]


def test_simulate_tells_who_stays_from_who_falls(run):
    steady = run(
        "simulate",
        file.write_practice_file(practice()),
        "--runs",
        6,
        "--days",
        28,
        "--adherence",
        1,
    )
    steps = {each["step"] for each in steady["proposed"]}
    assert "advance" in steps
    falling = run(
        "simulate", file.write_practice_file(practice(range(35, 0, -1))), "--runs", 6, "--days", 28,
        "--gain", -0.15, "--adherence", 1,
    )  # fmt: skip
    assert {"ease_and_call"} & {each["step"] for each in falling["proposed"]}
    again = run(
        "simulate",
        file.write_practice_file(practice()),
        "--runs",
        6,
        "--days",
        28,
        "--adherence",
        1,
    )
    assert again == steady


def test_a_simulation_may_take_what_is_proposed_and_counts_the_turns(run):
    left = run("simulate", file.write_practice_file(practice()), "--runs", 4)
    assert left["turns"] is None
    assert left["ends_at"] is None
    taken = run("simulate", file.write_practice_file(practice()), "--runs", 4, "--takes", "--stops")
    assert taken["assumed"]["accepts_steps"]
    assert taken["assumed"]["stops_at_target"]
    assert 0 <= taken["turns"] <= 3
    assert 0.5 < taken["ends_at"] < 1.3
    apart = run(
        "simulate",
        file.write_practice_file(practice()),
        "--runs",
        4,
        "--takes",
        "--autocorrelation",
        0,
    )
    assert apart["assumed"]["autocorrelation"] == 0


@pytest.mark.parametrize(
    "of", ["practice", "programme", "check", "decide", "judge", "plan", "simulate"]
)
def test_every_file_and_answer_has_a_schema(of, capsys):
    assert main(["schema", of]) == 0
    jsonschema.Draft202012Validator.check_schema(json.loads(capsys.readouterr().out))


def test_a_bad_programme_is_one_clear_line(tmp_path, capsys):
    path = tmp_path / "bad.json"
    path.write_text(json.dumps(programme() | {"items": [{"id": "a", "task": "nothing"}]}))
    assert main(["plan", str(path)]) == 2
    assert "no_such_task" in capsys.readouterr().err


@pytest.mark.parametrize(
    ("held_s", "outcome", "reason"), [(9.0, "met", "reached"), (5.0, "not_met", "short")]
)
def test_judge_measures_a_recording_of_an_item(tmp_path, capsys, held_s, outcome, reason):
    clip = speak(HeldVoice(VoicedPart(held_s, 174.6)), rate_hz=16_000)
    (tmp_path / "try.wav").write_bytes(write_wav(clip.samples, 16_000))
    item = tmp_path / "item.json"
    item.write_text(json.dumps(programme()["items"][0]))
    assert main(["judge", str(tmp_path / "try.wav"), "--task", str(item)]) == 0
    said = json.loads(capsys.readouterr().out)
    assert said["outcome"] == outcome
    assert {"part": "seconds", "verdict": outcome, "reason": reason} in said["parts"]
    assert said["figures"]["total_s"] == pytest.approx(held_s, abs=0.15)


@pytest.mark.parametrize("command", ["check", "decide", "plan", "simulate"])
@pytest.mark.parametrize(
    "content",
    [b"", b"[]", b"\xff\xfe", b'{"items": 3}', b"null", b'{"format": "still-reed-practice"}',
     b'{"format": "still-reed-practice", "programmes": 3}'],
)  # fmt: skip
def test_rubbish_is_one_line_and_no_traceback(tmp_path, capsys, command, content):
    path = tmp_path / "rubbish.json"
    path.write_bytes(content)
    assert main([command, str(path)]) == 2
    assert len(capsys.readouterr().err.splitlines()) == 1
    assert main([command, str(tmp_path)]) == 2  # A folder.
    assert main([command, str(tmp_path / "nothing.json")]) == 2


def test_plan_and_check_take_the_whole_file_with_the_clinics_own_tasks(run):
    own = {
        "code": "own_hold", "name": "Own", "purpose": "Ours.", "client": ["Hold it."],
        "measure": "hold", "sound": "oo", "voiced": True,
        "parameters": {"seconds": {"unit": "s", "default": 5, "from": 1, "to": 20}},
    }  # fmt: skip
    whole = practice()
    document = programme()
    document["items"].append({"id": "b", "task": "own_hold"})
    version = replace(whole.programmes[0], document=document)
    whole = replace(whole, own_tasks=[file.OwnTaskRecord("occluded", own)], programmes=[version])
    said = run("plan", file.write_practice_file(whole))
    assert [each["task"] for each in said["items"]] == ["straw_hold", "own_hold"]
    assert "findings" in run("check", file.write_practice_file(whole))


@pytest.mark.parametrize(
    "more", [("--days", "100000"), ("--runs", "0"), ("--spread", "nan"), ("--adherence", "2")]
)
def test_simulate_refuses_what_would_never_end_or_means_nothing(tmp_path, more, capsys):
    path = tmp_path / "in.json"
    path.write_bytes(file.write_practice_file(practice()))
    with pytest.raises(SystemExit) as ended:
        main(["simulate", str(path), *more])
    assert ended.value.code == 2
    assert "outside" in capsys.readouterr().err


def test_judge_takes_one_item_and_not_the_first_of_many(tmp_path, capsys):
    many = tmp_path / "many.json"
    many.write_text(json.dumps(programme()))
    (tmp_path / "try.wav").write_bytes(write_wav([0.0] * 16_000, 16_000))
    assert main(["judge", str(tmp_path / "try.wav"), "--task", str(many)]) == 2
    assert capsys.readouterr().err


def test_edits_are_made_on_a_programme_as_the_composer_makes_them(run, tmp_path, capsys):
    document = practice().programmes[-1].document
    first = document["items"][0]["id"]
    edits = tmp_path / "edits.json"
    edits.write_text(json.dumps([
        {"do": "climb_rung", "item": first, "by": 1}, {"do": "add_item", "id": "x", "task": "scalp"},
    ]))  # fmt: skip
    after = run("edit", document, edits)
    assert [each["id"] for each in after["items"]][-1] == "x"
    before, now = (each["items"][0]["params"]["seconds"] for each in (document, after))
    assert now > before
    edits.write_text(json.dumps([{"do": "climb_rung", "item": "ghost", "by": 1}]))
    path = tmp_path / "in.json"
    for text, says in (
        (edits.read_text(), "no item “ghost”"), ("{}", "a list of edits"), ('[{"do": "dance"}]', "no edit"),
    ):  # fmt: skip
        edits.write_text(text)
        assert main(["edit", str(path), str(edits)]) == 2
        assert says in capsys.readouterr().err
    assert main(["schema", "edit"]) == 0
    assert "ClimbRung" in json.loads(capsys.readouterr().out)["$defs"]
