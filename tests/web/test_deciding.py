"""A client's history becomes the core's cases, and its proposals become sentences."""

import uuid
from datetime import timedelta

from django.urls import reverse
from django.utils import timezone

from tests.factories import prescribe, trial
from tests.pages import read
from tests.web.conftest import entry, send, sitting
from web.record.models import Decision, SelfReport, Session, Trial
from web.record.programmes import current_programme
from web.results.annotations import practised_since, surroundings_of
from web.screening.models import Stop


def sat(programme, days_ago, outcomes, *, held_s=9.0, effort=3, ending="done"):
    """Create a session some days ago, with tries that met (y) or missed (n) their target."""
    when = timezone.now() - timedelta(days=days_ago)
    task = programme.tasks.get()
    session = Session.objects.create(
        key=uuid.uuid4(), client=programme.client, programme=programme, sort="full", day="usual",
        begun_at=when, ended_at=when, ending=ending, items_planned=1, items_done=1,
    )  # fmt: skip
    of = {"y": Trial.Outcome.MET, "n": Trial.Outcome.NOT_MET, "?": Trial.Outcome.NOT_JUDGED}
    for place, letter in enumerate(outcomes):
        at = when + timedelta(minutes=place)
        trial(
            task, session=session, performed_at=at, outcome=of[letter], total_s=held_s + place / 10
        )
    if effort is not None:
        report(session, "effort", effort, task=task)
    return session


def report(session, kind, value, *, task=None):
    return SelfReport.objects.create(
        key=uuid.uuid4(), client=session.client, session=session, task=task, kind=kind,
        value=value, said_at=session.begun_at,
    )  # fmt: skip


def next_of(as_clinician, person):
    shown = as_clinician.get(reverse("results:client", args=[person.pk])).context["next"]
    return [(each["title"], each["words"]) for each in shown]


def decide(as_clinician, person, step, **more):
    shown = as_clinician.get(reverse("results:client", args=[person.pk])).context["next"]
    said = {"task": shown[0]["task"] if shown else 1, "step": step, **more}
    return as_clinician.post(reverse("decisions:decide", args=[person.pk]), said, follow=True)


def practise(programme, outcomes="yyyy", days=range(14, 0, -1), **how):
    for days_ago in days:
        sat(programme, days_ago, outcomes, **how)


def test_a_steady_climber_is_advanced_with_the_figures(as_clinician, person, prescribed):
    practise(prescribed)
    ((title, words),) = next_of(as_clinician, person)
    assert title == "Straw in air, one note on F3"
    assert (
        words
        == "Advance one step to 9 s: 12 of 12 trials over 3 days were on target, at the right effort."
    )


def test_too_few_on_target_is_eased(as_clinician, person, prescribed):
    practise(prescribed, "nnny")
    ((_, words),) = next_of(as_clinician, person)
    assert words.startswith(
        "Ease one step: 2 of 8 trials over 2 days were on target in the last two sessions"
    )


def test_a_decline_is_reported_with_both_means(as_clinician, person, prescribed):
    practise(prescribed, days=range(28, 7, -1), held_s=12.0)
    practise(prescribed, days=range(6, -1, -1), held_s=8.2)
    ((_, words),) = next_of(as_clinician, person)
    assert words.startswith(
        "Ease one step and contact the client: the longest holds of the last 7 days"
    )
    assert "8.5 s, 31% under the usual 12.3 s" in words


def test_a_red_flag_speaks_once_for_the_whole_programme(as_clinician, person, prescribed):
    practise(prescribed)
    Stop.objects.create(
        key=uuid.uuid4(), client=person, flags=["new_pain"], tier="no_more_voicing", pauses=True,
        said_at=timezone.now(),
    )  # fmt: skip
    assert next_of(as_clinician, person) == [
        ("The whole programme", "Stop and refer: a red flag is open.")
    ]


def test_an_absent_client_gets_a_check_in(as_clinician, person, prescribed):
    practise(prescribed, days=range(14, 4, -1), effort=None)
    ((title, words),) = next_of(as_clinician, person)
    assert (title, words) == ("The whole programme", "Check in: no session on the last 4 due days.")


def test_a_rest_day_is_excused(as_clinician, person, prescribed):
    practise(prescribed, "yyyn", days=range(14, 4, -1))
    for days_ago in range(4, 0, -1):
        resting = sat(prescribed, days_ago, "", effort=None)
        resting.day = "rest"
        resting.save()
    assert next_of(as_clinician, person) == []


def add_stop(person, days_ago, *, cleared=None, flags=("new_pain",), pauses=True, session=None):
    """Create a stop some days ago, cleared some days ago if it was; without days, as received
    now."""
    when = timezone.now() - timedelta(days=days_ago)
    return Stop.objects.create(
        key=uuid.uuid4(), client=person, flags=list(flags), tier="no_more_voicing" if pauses else "end_session",
        pauses=pauses, said_at=when, received_at=when, session_key=session.pk if session else None,
        cleared_at=None if cleared is None else timezone.now() - timedelta(days=cleared),
    )  # fmt: skip


def test_days_on_which_the_programme_was_paused_are_excused_also_once_it_goes_on(
    as_clinician, person, prescribed
):
    practise(prescribed, days=range(14, 6, -1), effort=None)
    add_stop(person, 6, cleared=0.01)
    assert next_of(as_clinician, person) == []
    # The results page shows the same days as the board.
    today = timezone.localdate(timezone=person.zone)
    first = today - timedelta(days=20)
    found = surroundings_of(person, practised_since(person, first), [], first, today, today)
    assert not [day for day in found["missed"] if day >= today - timedelta(days=6)]


def test_evidence_starts_anew_when_a_red_flag_is_cleared(as_clinician, person, prescribed):
    practise(prescribed, days=range(14, 4, -1))
    add_stop(person, 4, cleared=3)
    assert next_of(as_clinician, person) == []  # All of it is earlier.
    sat(prescribed, 2, "nnnn")
    sat(prescribed, 1, "nnnn")
    ((_, words),) = next_of(as_clinician, person)
    assert words.startswith("Ease one step: 0 of 8 trials over 2 days were on target")


def test_sessions_stopped_for_strain_or_light_headedness_count(as_clinician, person, prescribed):
    practise(prescribed)
    for days_ago, said in ((3, "strain"), (1, "light_headed")):
        session = sat(prescribed, days_ago, "y", ending="stopped")
        add_stop(person, days_ago, cleared=days_ago, flags=(said,), pauses=False, session=session)
    ((_, words),) = next_of(as_clinician, person)
    assert words.startswith(
        "Ease one step: strain was reported, or stopped a session, 2 times in 7 days"
    )


def test_cannot_do_it_twice_is_a_swap(as_clinician, person, prescribed):
    practise(prescribed)
    for days_ago in (2, 1):
        session = sat(prescribed, days_ago, "", effort=None)
        report(session, "skipped", "cant", task=prescribed.tasks.get())
    ((_, words),) = next_of(as_clinician, person)
    assert words == "Swap the task: reported “I can’t do it” 2 times in 14 days. Or: Ease one step."


def test_a_deliberately_poor_trial_enters_nothing(as_clinician, person, prescribed):
    practise(prescribed)
    task = prescribed.tasks.get()
    for _ in range(8):
        trial(task, role="poor", outcome=Trial.Outcome.NOT_MET, total_s=1.0)
    ((_, words),) = next_of(as_clinician, person)
    assert words.startswith("Advance one step")


def test_taking_an_advance_makes_the_next_version_and_is_not_proposed_again(
    as_clinician, person, prescribed
):
    practise(prescribed)
    page = decide(as_clinician, person, "advance").content.decode()
    assert "Programme 2 is in force" in page
    newest = person.programmes.order_by("-version").first()
    assert newest.tasks.get().target_s == 9.0
    assert newest.reason.startswith("Straw in air, one note on F3: Advance one step to 9 s")
    assert prescribed.tasks.get().target_s == 8.0
    assert next_of(as_clinician, person) == []


def test_a_decision_can_be_undone_before_the_next_practice(as_clinician, person, prescribed):
    practise(prescribed)
    decide(as_clinician, person, "advance")
    decision = Decision.objects.get()
    url = reverse("decisions:undo", args=[person.pk, decision.pk])
    assert "undone" in as_clinician.post(url, follow=True).content.decode()
    assert current_programme(person) == prescribed
    assert person.programmes.count() == 2  # Withdrawn, and still on record.
    assert next_of(as_clinician, person) == []  # Its evidence is used.
    long_ago = timezone.now() - timedelta(days=20)
    Decision.objects.update(decided_at=long_ago, undone_at=long_ago)
    assert next_of(as_clinician, person)  # As if there had been practice since.
    decide(as_clinician, person, "advance")
    decision = Decision.objects.get(undone_at=None)
    sat(decision.created_version, 0, "y")
    url = reverse("decisions:undo", args=[person.pk, decision.pk])
    assert (
        ": the client has practised since, or there is a newer version. Change it in the composer."
        in as_clinician.post(url, follow=True).content.decode()
    )
    assert current_programme(person) == decision.created_version


def test_later_entries_for_a_withdrawn_version_are_kept(
    as_client, as_clinician, person, prescribed
):
    practise(prescribed)
    decide(as_clinician, person, "advance")
    made = Decision.objects.get().created_version
    session = sitting(person)  # A device began a session on it, and is offline.
    as_clinician.post(reverse("decisions:undo", args=[person.pk, Decision.objects.get().pk]))
    said = entry(person, "timed", session, task=made.tasks.get().pk, seconds=7.5)
    assert send(as_client, said).status_code == 200
    assert Trial.objects.get(pk=said["key"]).task.programme == made


def test_a_refused_proposal_waits_for_new_practice(as_clinician, person, prescribed):
    practise(prescribed, days=range(14, 0, -1))
    decide(as_clinician, person, "advance", refusal_reason="too_soon")
    assert Decision.objects.get().refusal_reason == "too_soon"
    page = read(as_clinician.get(reverse("results:client", args=[person.pk])))
    assert ": Advance one step, rejected: too soon." in page
    assert person.programmes.count() == 1
    assert next_of(as_clinician, person) == []
    sat(prescribed, -0.001, "yyyy")  # Slightly in the future: after the refusal.
    assert next_of(as_clinician, person) == []  # One session is fewer than the rule needs.
    Decision.objects.update(decided_at=timezone.now() - timedelta(days=9.5))
    ((_, words),) = next_of(as_clinician, person)
    assert words.startswith("Advance one step")


def test_a_proposal_that_has_changed_meanwhile_is_not_taken(as_clinician, person, prescribed):
    practise(prescribed)
    assert (
        "the proposal has changed or was already decided. Check it again."
        in decide(as_clinician, person, "ease").content.decode()
    )
    assert not Decision.objects.exists()


def test_a_single_held_sound_is_moved_too(as_clinician, person, clinician):
    task = prescribe(person, by=clinician, target_s=5.0, tries=4)
    task.programme.published_at = timezone.now() - timedelta(days=30)
    task.programme.save()
    practise(task.programme)
    decide(as_clinician, person, "advance")
    assert person.programmes.order_by("-version").first().tasks.get().target_s == 6.0


def test_without_practice_there_is_no_proposal(as_clinician, person, task):
    page = as_clinician.get(reverse("results:client", args=[person.pk])).content.decode()
    assert "no trials under this target yet" in page


def test_queries_do_not_grow_with_what_was_practised(
    as_clinician, person, prescribed, django_assert_max_num_queries
):
    practise(prescribed)
    with django_assert_max_num_queries(50) as few:
        next_of(as_clinician, person)
    practise(prescribed, days=range(28, 0, -1))
    with django_assert_max_num_queries(len(few)):
        next_of(as_clinician, person)
