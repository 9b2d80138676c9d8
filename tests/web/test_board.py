"""The board: all clients by need, with the reason, a fortnight and one key."""

import re
import uuid
from datetime import timedelta
from importlib import import_module

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.urls import reverse
from django.utils import timezone
from django.utils.html import escape

from reedcore.programme.document_values import programme_from
from tests.factories import (
    ClientFactory,
    ClinicianFactory,
    item,
    prescribe,
    publish_anyway,
    simple_document,
    trial,
)
from tests.web.test_deciding import practise, sat
from web.accounts.models import Cover
from web.catalogue.queries import all_tasks
from web.decisions.board import line_of as board_line
from web.decisions.client_status import statuses
from web.decisions.models import ClientStatus
from web.record.models import Decision, SelfReport, Session
from web.record.programmes import current_programme
from web.screening.models import Stop


def board(as_clinician, query=""):
    return as_clinician.get(reverse("decisions:board") + query)


def needs(as_clinician, query=""):
    groups = board(as_clinician, query).context["groups"]
    return [(group.code, [line.name for line in group.lines]) for group in groups]


def stems(row):
    """Return the number of drawn reeds: each begins at its own point."""
    return sum(each.path.count("M") for each in row.reeds)


def line_of(as_clinician, person):
    groups = board(as_clinician).context["groups"]
    (drawn,) = [one.html for group in groups for one in group.lines if one.name == person.name]
    status = statuses([person], now=timezone.now())[person.pk]
    line = board_line(person, status, all_tasks(person.clinic))
    assert escape(line.reason) in drawn  # The rows shown are the rows asked about.
    return line


def straw(person, clinician, seconds=8):
    document = simple_document(
        item("straw_hold", notes=[53], params={"seconds": seconds, "reps": 4})
    )
    document["dose"] |= {
        "start": (timezone.localdate() - timedelta(days=30)).isoformat(), "a_day": 1,
        "weekdays": [0, 1, 2, 3, 4, 5, 6], "weeks": 12,
    }  # fmt: skip
    programme = publish_anyway(person, document, by=clinician)
    programme.published_at = timezone.now() - timedelta(days=30)
    programme.save()
    return programme


def a_stop(person, flags=("new_pain",)):
    return Stop.objects.create(
        key=uuid.uuid4(), client=person, flags=list(flags), tier="no_more_voicing", pauses=True,
        said_at=timezone.now(),
    )  # fmt: skip


@pytest.fixture
def five(clinic, clinician):
    """One client of each need, with names in the opposite order."""
    made = {}
    for name in ("Zora Stopped", "Yves Worse", "Xaver Due", "Wim Away", "Vera Steady"):
        made[name] = ClientFactory(clinic=clinic, name=name)
    programmes = {name: straw(client, clinician) for name, client in made.items()}
    for name in ("Zora Stopped", "Xaver Due"):
        practise(programmes[name])
    a_stop(made["Zora Stopped"])
    practise(programmes["Yves Worse"], days=range(28, 7, -1), held_s=12.0)
    practise(programmes["Yves Worse"], days=range(6, -1, -1), held_s=8.2)
    practise(programmes["Wim Away"], days=range(14, 4, -1), effort=None)
    practise(programmes["Vera Steady"], "yyny", effort=None)
    return made


def test_the_order_is_the_order_of_need(as_clinician, five):
    assert needs(as_clinician) == [
        ("stop", ["Zora Stopped"]),
        ("worse", ["Yves Worse"]),
        ("decision", ["Xaver Due"]),
        ("check_in", ["Wim Away"]),
        ("on_course", ["Vera Steady"]),
    ]


def test_a_client_without_a_programme_is_not_on_course(as_clinician, five, clinic):
    ClientFactory(clinic=clinic, name="Abel New")
    shown = board(as_clinician)
    assert needs(as_clinician)[-2:] == [
        ("no_programme", ["Abel New"]), ("on_course", ["Vera Steady"]),
    ]  # fmt: skip
    head = " ".join(re.sub("<[^>]+>", "", shown.content.decode()).split())
    assert "6 clients · 4 need you · 1 on course · 1 without a programme" in head


def test_a_board_of_the_version_before_is_carried_over(as_clinician, five, clinic):
    ClientFactory(clinic=clinic, name="Abel New")
    board(as_clinician)
    step = import_module("web.decisions.migrations.0002_no_programme")
    with connection.cursor() as cursor:
        cursor.execute(step.BACKWARDS)
        old = dict(ClientStatus.objects.values_list("client__name", "need"))
        assert [old[name] for name in ("Abel New", "Vera Steady", "Wim Away")] == [4, 4, 3]
        cursor.execute(step.FORWARDS)
    assert needs(as_clinician)[-2:] == [
        ("no_programme", ["Abel New"]), ("on_course", ["Vera Steady"]),
    ]  # fmt: skip


def test_each_line_says_why_with_its_figures_and_has_a_key(as_clinician, five):
    lines = {name: line_of(as_clinician, client) for name, client in five.items()}
    said = {name: (line.reason, line.key) for name, line in lines.items()}
    assert said["Zora Stopped"] == ("A red flag is open: new pain on voicing or swallowing.", "r")
    assert "8.5 s, 31% under the usual 12.3 s" in said["Yves Worse"][0]
    assert said["Yves Worse"][1] == "e"
    assert said["Xaver Due"] == (
        "Straw in air, one note on F3: 12 of 12 trials over 3 days were on target, at the right effort.", "a",
    )  # fmt: skip
    assert said["Wim Away"] == ("No session on the last 4 due days.", "m")
    # A client on course has a reason too.
    assert said["Vera Steady"][0].startswith(
        "Straw in air, one note on F3: 9 of 12 trials on target. A step up needs 80%. 100% "
        "adherence in 14 days. Last on"
    )


def test_the_fortnight_has_a_reed_a_session_and_its_missed_days(as_clinician, five):
    row = line_of(as_clinician, five["Wim Away"]).row
    # Fourteen days ago to five days ago; the window is fourteen days with today.
    assert stems(row) == 9
    assert row.missed.count("M") == 4
    assert "4 days missed" in row.spoken


def test_practice_before_todays_version_is_still_drawn(as_clinician, person, clinician):
    practise(straw(person, clinician), days=range(6, 0, -1))
    publish_anyway(person, simple_document(item("hum_hold", notes=[55])), by=clinician)
    assert stems(line_of(as_clinician, person).row) == 6


def test_one_key_takes_the_decision_and_one_takes_it_back(as_clinician, five):
    person = five["Xaver Due"]
    line = line_of(as_clinician, person)
    said = {"task": line.task, "step": line.step, "next": reverse("decisions:board")}
    response = as_clinician.post(reverse("decisions:decide", args=[person.pk]), said)
    assert response.url == reverse("decisions:board")
    assert person.programmes.count() == 2
    page = board(as_clinician).content.decode()
    assert "Last decision for Xaver Due: Advance one step" in page
    assert ("decision", ["Xaver Due"]) not in needs(as_clinician)
    back = as_clinician.post(reverse("decisions:undo_last"), follow=True)
    assert "undone" in back.content.decode()
    assert current_programme(person).version == 1
    # Used evidence, accepted or undone, waits for new practice.
    assert ("decision", ["Xaver Due"]) not in needs(as_clinician)


def test_a_colleagues_decision_cannot_be_undone(as_clinician, five, clinic):
    person = five["Xaver Due"]
    task = person.programmes.get().tasks.get()
    Decision.objects.create(
        client=person, task=task, step="advance", reason="most_on_target", accepted=False,
        refusal_reason="too_soon", decided_at=timezone.now(), decided_by=ClinicianFactory(clinic=clinic),
    )  # fmt: skip
    page = as_clinician.post(reverse("decisions:undo_last"), follow=True).content.decode()
    assert "There is no decision of today to undo." in page
    assert Decision.objects.count() == 1


def test_the_answer_leads_to_no_other_site(as_clinician, five):
    person = five["Wim Away"]
    said = {
        "task": "",
        "step": "check_in",
        "refusal_reason": "too_soon",
        "next": "//elsewhere.example/",
    }
    response = as_clinician.post(reverse("decisions:decide", args=[person.pk]), said)
    assert response.url == reverse("results:client", args=[person.pk])


def test_filters_leave_out_and_nothing_is_left_out_without_one(
    as_clinician, five, clinic, clinician
):
    other = ClinicianFactory(clinic=clinic)
    five["Wim Away"].clinician, five["Wim Away"].diagnosis = other, "neuro"
    five["Wim Away"].save()
    everybody = [name for _, names in needs(as_clinician) for name in names]
    assert len(everybody) == 5
    assert needs(as_clinician, f"?clinician={other.pk}") == [("check_in", ["Wim Away"])]
    assert needs(as_clinician, "?clinician=999999") == needs(as_clinician)
    assert [name for _, names in needs(as_clinician, "?school=loud") for name in names] == []
    assert "No clients match these filters." in board(as_clinician, "?school=loud").content.decode()


def test_filters_are_remembered_until_all_are_shown(as_clinician, five, clinic):
    other = ClinicianFactory(clinic=clinic)
    assert needs(as_clinician, f"?clinician={other.pk}") == []
    assert needs(as_clinician) == []  # Remembered without an address.
    assert needs(as_clinician, "?clinician=") != []
    assert needs(as_clinician) != []
    assert needs(as_clinician, f"?clinician={'9' * 5000}&school=x%00y") != []
    assert len(str(dict(as_clinician.session))) < 1000  # Only known values are remembered.


def test_shared_and_covered_clients_can_be_shown_alone(as_clinician, five, clinic, clinician):
    colleague = ClinicianFactory(clinic=clinic)
    mine = ClientFactory(clinic=clinic, name="Ysolde Crane")
    theirs = next(iter(five.values()))
    mine.shared_with.add(clinician)
    assert needs(as_clinician, "?clinician=shared") == [("no_programme", ["Ysolde Crane"])]
    theirs.clinician = colleague
    theirs.save()
    assert needs(as_clinician, "?clinician=covered") == []
    today = timezone.localdate()
    Cover.objects.create(
        absent=colleague, substitute=clinician, first_day=today, last_day=today, made_by=clinician
    )
    ((_, names),) = needs(as_clinician, "?clinician=covered")
    assert names == [theirs.name]


def test_a_contacted_client_is_waited_for_and_not_on_course(as_clinician, person, prescribed):
    sat(prescribed, 3, "yyy")
    Decision.objects.create(
        client=person, step="check_in", reason="days_missed", accepted=True,
        decided_at=timezone.now() - timedelta(days=2), decided_by=prescribed.published_by,
    )  # fmt: skip
    ((code, names),) = needs(as_clinician)
    assert (code, names) == ("waiting", [person.name])
    assert "No answer and no practice since" in line_of(as_clinician, person).reason
    sat(prescribed, 0, "yyy")
    ((code, _),) = needs(as_clinician)
    assert code != "waiting"


def test_archived_clients_and_other_clinics_are_not_on_it(as_clinician, five, clinician):
    five["Vera Steady"].archived_at = timezone.now()
    five["Vera Steady"].save()
    straw(ClientFactory(name="Of Elsewhere"), ClinicianFactory())
    everybody = [name for _, names in needs(as_clinician) for name in names]
    assert set(everybody) == set(five) - {"Vera Steady"}


def test_no_clients_yet_leads_to_the_first(as_clinician):
    assert "The first client" in board(as_clinician).content.decode()


def test_a_client_with_nothing_prescribed_is_on_it(as_clinician, person):
    assert line_of(as_clinician, person).reason == "No programme yet."


def test_the_number_of_queries_does_not_depend_on_the_clients(
    as_clinician, five, clinic, clinician
):
    def warm_and_cold():
        ClientStatus.objects.update(stale=True)
        counts = []
        for _ in range(2):
            with CaptureQueriesContext(connection) as made:
                board(as_clinician)
                counts.append(len(made))
        return counts

    board(as_clinician)
    before = warm_and_cold()
    for _ in range(6):
        practise(straw(ClientFactory(clinic=clinic), clinician), days=range(9, 0, -1))
    board(as_clinician)
    assert warm_and_cold() == before
    assert before[1] < 15


CHANGES = {
    "a try": lambda person, task, session: trial(task),
    "a session that ends": lambda person, task, session: Session.objects.filter(
        pk=session.pk
    ).update(ending="left"),
    "a mark": lambda person, task, session: SelfReport.objects.create(
        key=uuid.uuid4(), client=person, session=session, task=task, kind="effort", value=9,
        said_at=timezone.now(),
    ),
    "a stop": lambda person, task, session: a_stop(person),
    "a version": lambda person, task, session: prescribe(person, by=task.programme.published_by),
    "a try that is deleted": lambda person, task, session: task.trials.first().delete(),
}  # fmt: skip


@pytest.mark.parametrize("change", CHANGES)
def test_every_change_of_a_client_makes_the_board_line_stale(person, clinician, clinic, change):
    programme = straw(person, clinician)
    session = sat(programme, 1, "yyyy")
    other = ClientFactory(clinic=clinic)
    statuses([person, other], now=timezone.now())
    assert not ClientStatus.objects.filter(stale=True).exists()
    CHANGES[change](person, programme.tasks.get(), session)
    assert [each.client for each in ClientStatus.objects.filter(stale=True)] == [person]


def test_a_new_day_is_looked_at_anew(person, clinician):
    straw(person, clinician)
    now = timezone.now()
    assert statuses([person], now=now)[person.pk].day == now.astimezone(person.zone).date()
    later = now + timedelta(days=1)
    assert statuses([person], now=later)[person.pk].day == later.astimezone(person.zone).date()


def test_two_weeks_of_decline_ask_for_another_look(person, clinician):
    programme = straw(person, clinician)
    practise(programme, days=range(50, 19, -1), held_s=12.0)
    practise(programme, days=range(18, -1, -1), held_s=8.2)
    first = statuses([person], now=timezone.now())[person.pk]
    assert first.proposed[0]["step"] == "look_again"


def test_rules_are_changed_for_one_client_and_kept_with_who_did(as_clinician, person, prescribed):
    practise(prescribed, days=range(10, 0, -1))
    url = reverse("decisions:rules", args=[person.pk])
    page = as_clinician.post(url, {"advance_share": "7"})
    assert "less than or equal to 1" in page.content.decode()
    assert line_of(as_clinician, person).step == "advance"
    as_clinician.post(url, {"advance_sessions": "14"})
    assert line_of(as_clinician, person).step != "advance"
    assert "Odalys Brandt" in as_clinician.get(url).content.decode()


def test_taking_a_swap_puts_the_substitute_in_its_place(as_clinician, person, prescribed):
    practise(prescribed)
    for days_ago in (2, 1):
        session = sat(prescribed, days_ago, "", effort=None)
        SelfReport.objects.create(
            key=uuid.uuid4(), client=person, session=session, task=prescribed.tasks.get(),
            kind="skipped", value="cant", said_at=session.begun_at,
        )  # fmt: skip
    line = line_of(as_clinician, person)
    assert (line.key, line.step) == ("w", "swap")
    as_clinician.post(
        reverse("decisions:decide", args=[person.pk]), {"task": line.task, "step": line.step}
    )
    newest = person.programmes.order_by("-version").first()
    assert newest.version == 2
    assert newest.tasks.get().task_code != "straw_hold"
    assert newest.tasks.get().note_midi == 53


def test_the_taper_goes_down_a_step_at_a_time_and_back_without_loss(clinic):
    from reedcore.programme import taper
    from web.catalogue.queries import all_tasks

    today = timezone.localdate()
    programme = programme_from(
        simple_document(item("hum_hold", notes=[53]), item("block_warm_up"), item("block_power"))
    )
    catalogue = all_tasks(clinic)
    week = taper.begin(programme, peak_s=20.0, today=today, catalogue=catalogue)
    assert [each.params.get("reps") for each in week.items[1:]] == [2, 2]
    assert week.dose.a_day == 2
    for _ in range(3):
        week = taper.move_week(week, by=1, today=today, catalogue=catalogue)
    # The fourth week: power alone, twice, once a day; items outside the block stay.
    assert [each.task for each in week.items] == ["hum_hold", "block_power"]
    assert (week.items[1].params["reps"], week.dose.a_day) == (2, 1)
    for _ in range(5):
        week = taper.move_week(week, by=1, today=today, catalogue=catalogue)
    assert (week.taper.week, len(week.dose.weekdays)) == (7, 1)
    for _ in range(9):
        week = taper.move_week(week, by=-1, today=today, catalogue=catalogue)
    assert [each.task for each in week.items] == [each.task for each in programme.items]
    kept = taper.to_maintenance(week, today=today)
    assert kept.taper is None
    assert (kept.sort, kept.dose.kind) == ("maintenance", "rolling")


def test_a_line_that_was_drawn_is_shown_until_something_happens(as_clinician, five, monkeypatch):
    first = board(as_clinician).content.decode()
    drawn = []
    monkeypatch.setattr(
        "web.decisions.board.line_of",
        lambda *given: drawn.append(given[0].name) or board_line(*given),
    )
    assert "Wim Away" in board(as_clinician).content.decode()
    assert drawn == []
    person = five["Wim Away"]
    a_stop(person)
    page = board(as_clinician).content.decode()
    assert drawn == ["Wim Away"]
    assert page.count("A red flag is open") > first.count("A red flag is open")
    person.name = "Wim <b>Back</b>"
    person.save()
    assert "Wim &lt;b&gt;Back&lt;/b&gt;" in board(as_clinician).content.decode()


def test_a_cached_line_holds_nothing_of_the_user(as_clinician, five):
    first, second = board(as_clinician), board(as_clinician, "?school=&diagnosis=")
    for response, here in ((first, "/board/"), (second, "/board/?school=&amp;diagnosis=")):
        page = response.content.decode()
        assert page.count('<form id="of-the-board" method="post">') == 1
        assert f'name="next" value="{here}"' in page
    for group in first.context["groups"]:
        for line in group.lines:
            assert "csrf" not in line.html
            assert "next" not in line.html


def test_a_key_of_a_line_says_what_it_decides_about(as_clinician, five):
    person = five["Xaver Due"]
    url = reverse("decisions:decide", args=[person.pk])
    (about,) = re.findall(
        rf'formaction="{url}" name="take" value="([^"]+)"', board(as_clinician).content.decode()
    )
    assert about == f"advance {current_programme(person).tasks.get().pk}"
    for wrong in ("advance", "advance 0", "ease " + about.split()[1], "", "x y z"):
        page = as_clinician.post(url, {"take": wrong}, follow=True).content.decode()
        assert "the proposal has changed or was already decided. Check it again." in page
    as_clinician.post(url, {"leave": f"{about} too_soon"})
    assert person.decisions.get().refusal_reason == "too_soon"


def test_a_key_for_the_whole_programme_decides_too(as_clinician, five):
    person = five["Wim Away"]
    url = reverse("decisions:decide", args=[person.pk])
    page = board(as_clinician).content.decode()
    (about,) = re.findall(rf'formaction="{url}" name="take" value="([^"]+)"', page)
    as_clinician.post(url, {"take": about})
    decision = person.decisions.get()
    assert (decision.step, decision.accepted) == (about.split(" ")[0], True)
