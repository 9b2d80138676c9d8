"""A client's course as a practice file, built from events of past days, and the decisions
about it."""

import json
from datetime import timedelta
from uuid import UUID, uuid5

from reedcore.catalogue import shipped_tasks
from reedcore.checks import Person
from reedcore.cli.commands import main
from reedcore.history import DecisionRecord, Report, SessionRecord, StopRecord, TrialRecord, file
from tests.core.histories import NOW, at, day
from tests.documents import empty_document, new_item

_SPACE = UUID(int=77)
_OUTCOMES = {"y": "met", "n": "not_met", "?": "not_judged"}
DAILY = {"a_day": 1, "weekdays": list(range(7)), "weeks": 30}


class Course:
    """``back`` counts days before today, at noon; ``minute`` moves within the day."""

    def __init__(self, *, goal_s=None, rules=None):
        self.goal_s, self.rules = goal_s, rules or {}
        self.versions, self.sessions, self.trials = [], {}, []
        self.reports, self.stops, self.decisions = [], [], []

    def asks(self, back, *items, dose=None, **document):
        """Add a version, valid from an hour before noon: items are (task, seconds, fields)."""
        made = empty_document(day(back)) | document
        made["dose"] = made["dose"] | (dose or DAILY)
        tasks = []
        for place, (code, seconds, fields) in enumerate(items):
            task = shipped_tasks()[code]
            item = new_item(task, id=fields.get("id", f"i{place}"))
            if seconds is not None:
                item["params"]["seconds"] = float(seconds)
            if "reps" in item["params"]:
                item["params"]["reps"] = fields.get("tries", 4)
            item["params"] |= fields.get("params", {})
            item |= {name: value for name, value in fields.items() if name in item and name != "id"}
            made["items"] = [*made["items"], item]
            for note in item["notes"] or [None]:
                key = sum(len(each.tasks) for each in self.versions) + len(tasks) + 1
                tasks.append(
                    file.TaskRecord(
                        key, code, task.measure, item["sound"] or task.sound, note,
                        float(seconds) if seconds is not None else None, item["counts"],
                        fields.get("tries", 4), item["id"],
                    )
                )  # fmt: skip
        when = at(back, -60)
        number = len(self.versions) + 1
        self.versions.append(file.VersionRecord(number, when, day(back), "", False, made, tasks))
        return [each.key for each in tasks]

    def does(self, back, tries="yyyy", held=10.0, *, task=1, effort=3, minute=0, **more):
        """Add a session of a task; a letter for each try."""
        key = self._key("session", back, minute)
        when = at(back, minute)
        self.sessions.setdefault(
            key,
            SessionRecord(key, when, day(back), "full", more.pop("kind", "usual"), "done", 1, 1),
        )
        for place, letter in enumerate(tries):
            self.trials.append(
                TrialRecord(
                    self._key("trial", back, minute, task, place), task, key,
                    when + timedelta(seconds=30 * place + 1), day(back), _OUTCOMES[letter],
                    total_s=held, **more,
                )
            )  # fmt: skip
        if effort is not None:
            self.says(back, "effort", effort, task=task, minute=minute)
        return self

    def rests(self, back):
        """Log a rest day."""
        key = self._key("session", back, 0)
        self.sessions[key] = SessionRecord(key, at(back), day(back), "full", "rest", "done", 0, 0)

    def says(self, back, kind, value, *, task=None, minute=0):
        """Add a report to that day's session."""
        place = len(self.reports)
        self.reports.append(
            Report(
                self._key("report", place), kind, value, at(back, minute + 5), day(back),
                self._key("session", back, minute), task,
            )
        )  # fmt: skip

    def stops_on(self, back, *flags, pauses=False, cleared=None):
        """Add a stop to that day's session."""
        tier = "no_more_voicing" if pauses else "end_session"
        self.stops.append(
            StopRecord(
                self._key("stop", back), flags, tier, pauses, at(back, 10), at(back, 10),
                cleared_at=None if cleared is None else at(cleared, 60),
                session=self._key("session", back, 0),
            )
        )  # fmt: skip

    def decides(self, back, step, reason, *, task=1, accepted=True):
        """Add a decision, an hour after noon."""
        self.decisions.append(DecisionRecord(step, reason, at(back, 90), task, accepted))

    def _key(self, *what):
        return uuid5(_SPACE, "/".join(map(str, what)))

    def written(self):
        """Return the course in the clinic's export format."""

        def by_time(rows):
            return sorted(rows, key=lambda each: getattr(each, "at", None) or each.received_at)

        return file.write_practice_file(
            file.PracticeFile(
                format=file.FORMAT, version=file.VERSION, written_at=NOW, client={"name": "X"},
                time_zone="Europe/Lisbon", a4_hz=440.0, record={}, person=Person(), bests={},
                rules=self.rules, own_tasks=[], screens=[], baselines=[], targets=[],
                programmes=self.versions, sessions=by_time(self.sessions.values()),
                trials=by_time(self.trials), reports=by_time(self.reports),
                stops=by_time(self.stops), decisions=by_time(self.decisions), goal_s=self.goal_s,
            )
        )  # fmt: skip

    def decided(self, tmp_path, capsys):
        """Return the first proposal of the command line as (step, reason, task, target rung); for a
        client on course, ("stay", the first reason, …)."""
        path = tmp_path / "practice.json"
        path.write_bytes(self.written())
        assert main(["decide", str(path)]) == 0
        said = json.loads(capsys.readouterr().out)
        first = (said["proposals"] or said["stays"])[0]
        return first["step"], first["reason"], first["task"], first["moves_to"]


def course(days, tries="yyyy", held=10.0, *, seconds=10.0, effort=3, since=None, **more):
    """Return a course of a soft straw hold with a session on each of these days; values that depend
    on the day are functions of it."""
    made = Course(goal_s=more.pop("goal_s", None), rules=more.pop("rules", None))
    code = more.pop("task", "straw_hold")
    fields = {"tries": more.pop("prescribed", 4), **more.pop("fields", {})}
    if code in ("straw_hold", "hum_hold"):
        fields.setdefault("notes", [53])
    days = sorted(days, reverse=True)
    begun = since if since is not None else max(days, default=30)
    made.asks(begun, (code, seconds, fields), dose=more.pop("dose", None))

    def of(value, back):
        return value(back) if callable(value) else value

    for back in days:
        made.does(back, of(tries, back), of(held, back), effort=of(effort, back), **more)
    return made
