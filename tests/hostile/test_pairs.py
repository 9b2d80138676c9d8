"""Each action twice at once, from two sessions: one effect, one clear answer for the other, no
error.

The two requests are held at the door until both are there, and each pair runs several times: which of the
two comes first is chance.
"""

import threading
import uuid
from dataclasses import asdict
from datetime import timedelta

import pytest
from django.db import connection
from django.test import Client as Browser
from django.urls import reverse
from django.utils import timezone

from reedcore.decisions import RANGES, Settings
from tests.factories import (
    ClientFactory,
    ClinicianFactory,
    baseline,
    baseline_trial,
    item,
    prescribe,
    publish_anyway,
    simple_document,
)
from tests.hostile.test_entries import stop as send_stop
from tests.web.signing_in import signed_in
from tests.web.test_access import a_note, a_stop, a_trial
from tests.web.test_board import practise, straw
from tests.web.test_clinic_and_calculators import settings_of
from web.accounts.actions import password_path
from web.accounts.models import Clinic, Cover, User
from web.baseline.models import Baseline, BaselineTrial, ReferenceFigure
from web.catalogue.actions import keep
from web.catalogue.models import HiddenTask, LibraryEntry
from web.clients.actions import add_helper, archive_client
from web.clients.actions.erasing import erase_due, plan_erasure
from web.clients.models import Client, Erasure, Helper
from web.notes.models import ClinicalNote
from web.notes.wording import PARTS
from web.practice.models import Tablet
from web.practice.page_token import page_token
from web.programmes.drafting import save_draft
from web.record.models import Decision, PracticeMessage, ProgrammeVersion, RuleSettings, Trial
from web.screening.models import Screen, Stop

pytestmark = pytest.mark.django_db(transaction=True)


@pytest.fixture
def colleagues(clinic, clinician):
    """The lead, who is also the clinician, and two colleagues."""
    type(clinic).objects.filter(pk=clinic.pk).update(lead=clinician, deputy=clinician)
    return clinician, ClinicianFactory(clinic=clinic), ClinicianFactory(clinic=clinic)


def at_once(*requests):
    """Send requests at the same moment; return their answers.

    Args:
        requests: who sends, where to, what.
    """
    gate, answers = threading.Barrier(len(requests)), [None] * len(requests)

    def send(place, cookies, url, data):
        browser = Browser(raise_request_exception=False)
        browser.cookies = cookies
        gate.wait(30)
        answers[place] = browser.post(url, data)
        connection.close()

    threads = [
        threading.Thread(target=send, args=(place, signed_in(user).cookies, url, data))
        for place, (user, url, data) in enumerate(requests)
    ]
    for each in threads:
        each.start()
    for each in threads:
        each.join()
    return answers


def in_turn(*requests):
    """Send requests one after the other; return their answers."""
    return [answer for each in requests for answer in at_once(each)]


def twice(user, url, data=None, *, other=None, send=at_once):
    """Send the same request twice, and check that neither is an error."""
    answers = send((user, url, data or {}), (other or user, url, data or {}))
    assert [each.status_code for each in answers if each.status_code >= 500] == []
    return answers


def due(person, clinician):
    """A client with a proposed advance."""
    programme = straw(person, clinician)
    practise(programme)
    return programme


def proposal(person, step="advance"):
    task = person.programmes.order_by("-version").first().tasks.get()
    return {"task": task.pk, "step": step}


@pytest.mark.parametrize("round_of", range(3))
def test_a_proposal_taken_twice_decides_once_and_undo_undoes_it(person, clinician, round_of):
    before = due(person, clinician)
    url = reverse("decisions:decide", args=[person.pk])
    twice(clinician, url, proposal(person))
    (decision,) = Decision.objects.filter(client=person, accepted=True)
    assert ProgrammeVersion.objects.filter(client=person).count() == before.version + 1
    twice(clinician, reverse("decisions:undo", args=[person.pk, decision.pk]))
    decision.refresh_from_db()
    assert decision.undone_at is not None
    in_force = person.programmes.filter(withdrawn_at=None).order_by("-version").first()
    assert in_force == before


def test_a_proposal_taken_by_one_and_left_by_another_is_decided_once(person, colleagues):
    lead, *_ = colleagues
    due(person, lead)
    url = reverse("decisions:decide", args=[person.pk])
    said = proposal(person)
    answers = at_once((lead, url, said), (lead, url, {**said, "refusal_reason": "too_soon"}))
    assert all(each.status_code < 500 for each in answers)
    assert Decision.objects.filter(client=person).count() == 1


def test_two_accounts_closed_into_each_others_hands_leave_no_client_behind(person, colleagues):
    lead, count_of, other = colleagues
    second_lead = ClinicianFactory(clinic=lead.clinic)
    for user in (count_of, other):
        ClientFactory(clinic=lead.clinic, clinician=user)
    urls = {user: reverse("clinic:deactivate", args=[user.pk]) for user in (count_of, other)}
    answers = at_once(
        (lead, urls[count_of], {"to": other.pk}), (lead, urls[other], {"to": count_of.pk})
    )
    assert all(each.status_code < 500 for each in answers)
    assert not Client.objects.filter(clinician__is_active=False).exists()
    assert User.objects.filter(pk__in=[count_of.pk, other.pk], is_active=True).count() == 1
    assert second_lead.is_active


def test_two_colleagues_of_one_first_name_are_both_invited(colleagues):
    lead, *_ = colleagues
    url = reverse("clinic:invite")
    said = [
        {"name": f"Sasha {last}", "mail": f"{last}@x.example", "role": "clinician"} for last in "ab"
    ]
    answers = at_once(*((lead, url, each) for each in said))
    assert [each.status_code for each in answers] == [200, 200]
    assert sorted(User.objects.filter(first_name="Sasha").values_list("username", flat=True)) == [
        "sasha", "sasha2",
    ]  # fmt: skip


def test_one_invitation_is_redeemed_once(colleagues):
    *_, invited = colleagues
    invited.set_unusable_password()
    invited.save()
    browsers = [Browser(raise_request_exception=False) for _ in range(2)]
    pages = [each.get(password_path(invited)).url for each in browsers]
    gate, shown = threading.Barrier(2), [None, None]

    def choose(place):
        words = f"harbour {'lamp' if place else 'rope'} salt 41"
        gate.wait(30)
        said = {"new_password1": words, "new_password2": words}
        shown[place] = browsers[place].post(pages[place], said)
        connection.close()

    threads = [threading.Thread(target=choose, args=[place]) for place in range(2)]
    for each in threads:
        each.start()
    for each in threads:
        each.join()
    assert sorted(each.status_code for each in shown) == [200, 302]
    (late,) = [each for each in shown if each.status_code == 200]
    assert "This link has expired" in late.content.decode()


def test_a_note_discarded_while_it_is_signed_is_one_or_the_other(person, clinician):
    note = a_note(person, by=clinician)
    where = [person.pk, note.pk]
    answers = at_once(
        (clinician, reverse("notes:discard_note", args=where), {}),
        (clinician, reverse("notes:sign_note", args=where), {"edition": note.edition}),
    )
    assert all(each.status_code < 500 for each in answers)
    left = ClinicalNote.objects.filter(pk=note.pk).first()
    assert left is None or left.signed_at is not None


def test_a_stop_arrives_while_its_client_is_erased(person, clinician, task):
    archive_client(person)
    plan_erasure(person, by=clinician, why="asked to", name=person.name)
    Erasure.objects.update(due_at=timezone.now() - timedelta(days=1))
    gate, said = threading.Barrier(2), []
    browser = Browser(raise_request_exception=False)
    client_pk, page = person.pk, page_token(person, by=person.account)

    def stops():
        gate.wait(30)
        said.append(send_stop(browser, person, page=page).status_code)
        connection.close()

    arriving = threading.Thread(target=stops)
    arriving.start()
    gate.wait(30)
    erase_due(now=timezone.now())
    arriving.join()
    # It came first and was erased with the record, or it came last and was rejected.
    assert said[0] in (200, 403, 410)
    if not Client.objects.filter(pk=client_pk).exists():
        assert not Stop.objects.filter(client_id=client_pk).exists()


def test_a_caution_recorded_during_a_handover_of_the_caseload_stays(person, colleagues):
    lead, count_of, other = colleagues
    Client.objects.filter(pk=person.pk).update(clinician=count_of)
    screen = reverse("screening:screen", args=[person.pk])
    answers = at_once(
        (lead, reverse("clinic:deactivate", args=[count_of.pk]), {"to": other.pk}),
        (lead, screen, screening(person, yes="caution_latex")),
    )
    assert all(each.status_code < 500 for each in answers)
    person.refresh_from_db()
    assert person.clinician == other
    assert person.cautions == ["latex"]


def test_a_link_revoked_while_the_record_is_saved_stays_revoked(person, colleagues):
    lead, *_ = colleagues
    Client.objects.filter(pk=person.pk).update(practice_code="a-code")
    record = {"name": "Another Name", "voice": "bass", "edition": person.edition, "spelling": "sharps"}  # fmt: skip
    answers = at_once(
        (lead, reverse("clients:practice_link", args=[person.pk]), {"revoke": ""}),
        (lead, reverse("clients:record", args=[person.pk]), record),
    )
    assert all(each.status_code < 500 for each in answers)
    person.refresh_from_db()
    assert (person.practice_code, person.name) == (None, "Another Name")


def screening(person, *, yes):
    from web.screening.forms import ScreenForm

    questions = [
        name
        for name, field in ScreenForm(client=person).fields.items()
        if hasattr(field, "choices")
    ]
    return dict.fromkeys(questions, "no") | {yes: "yes"}


def count_of(model, **where):
    return lambda person: model.objects.filter(**where).count()


def address_of(name, *more):
    return lambda person, by: reverse(name, args=[person.pk, *more])


def with_stop(person, by):
    return reverse("screening:clear_stop", args=[person.pk, a_stop(person).pk])


def with_flag(person, by):
    Screen.objects.create(client=person, asked_at=timezone.now(), asked_by=by, flags=["neck_lump"])
    return reverse("screening:declare_safe", args=[person.pk])


def to_restore(person, by):
    archive_client(person)
    return reverse("clients:restore", args=[person.pk])


def open_draft(person, by):
    save_draft(person, simple_document(), by=by)
    return reverse("programmes:publish", args=[person.pk])


def accepted_proposal(person, by):
    due(person, by)
    signed_in(by).post(reverse("decisions:decide", args=[person.pk]), proposal(person))
    return reverse("decisions:undo_last")


def archived_record(person, by):
    archive_client(person)
    return reverse("clinic:erase", args=[person.pk])


def planned_erasure(person, by):
    archive_client(person)
    plan_erasure(person, by=by, why="asked to", name=person.name)
    return reverse("clinic:keep", args=[person.pk])


def versions(person, by):
    for code in ("straw_hold", "hum_hold"):
        publish_anyway(person, simple_document(item(code, notes=[53])), by=by)


def with_versions(name, version=2):
    def address(person, by):
        versions(person, by)
        return reverse(name, args=[person.pk, version])

    return address


def of_a_note(name, *, signed=False):
    def address(person, by):
        note = a_note(person, by=by)
        if signed:
            ClinicalNote.objects.filter(pk=note.pk).update(signed_at=timezone.now(), signed_by=by)
        return reverse(name, args=[person.pk, note.pk])

    return address


def with_helper(person, by):
    return reverse(
        "clients:helper", args=[person.pk, add_helper(person, name="Ana", relation="daughter").pk]
    )


def with_sheet(name):
    return lambda person, by: reverse(name, args=[baseline(person, by=by).pk])


def with_trial(what):
    return lambda person, by: reverse(
        "baseline:trial", args=[baseline_trial(person, by=by).pk, what]
    )


def with_cover(person, by):
    day = timezone.localdate()
    other = ClinicianFactory(clinic=person.clinic)
    made = Cover.objects.create(
        absent=by, substitute=other, first_day=day, last_day=day, made_by=by
    )
    return reverse("clinic:end_cover", args=[made.pk])


def with_entry(person, by):
    kept = keep(person.clinic, by=by, kind="lines", name="Market", data=["Two."], shared=True)
    return reverse("catalogue:put_away", args=[kept.pk])


def with_figure(person, by):
    row = ReferenceFigure.objects.create(clinic=person.clinic, measure="span_st", low=1)
    return reverse("clinic:remove_reference", args=[row.pk])


def with_tablet(person, by):
    made = Tablet.objects.create(clinic=person.clinic, name="Group room", made_by=by)
    return reverse("practice:change_tablet", args=[made.pk])


def with_a_trial(name):
    def address(person, by):
        task = prescribe(person, by=by)
        return reverse(f"results:{name}", args=[person.pk, a_trial(task).pk])

    return address


def with_colleague(name):
    return lambda person, by: reverse(name, args=[ClinicianFactory(clinic=person.clinic).pk])


def with_deactivated(person, by):
    return reverse(
        "clinic:reactivate", args=[ClinicianFactory(clinic=person.clinic, is_active=False).pk]
    )


def plain(name):
    return lambda person, by: reverse(name)


SAID = {"because": "Seen by the laryngologist today."}
LETTER = {"to": "Dr Quayle"}
#: Requests sent twice at once: address, data, and the expected number of rows.
PAIRS = {
    "clear a stop": (with_stop, SAID, count_of(Stop, cleared_by__isnull=False), 1),
    "declare safe": (with_flag, SAID, count_of(Screen, safe_at__isnull=False), 1),
    "refer": (address_of("screening:refer"), LETTER, count_of(Screen, referred_to="Dr Quayle"), 1),
    "screen": (address_of("screening:screen"), "screening", count_of(Client, cautions=["latex"]), 1),
    "archive": (address_of("clients:archive"), {}, count_of(Client, archived_at__isnull=False), 1),
    "restore": (to_restore, {}, count_of(Client, archived_at=None), 1),
    "plan an erasure": (archived_record, "erasure", count_of(Erasure), 1),
    "keep a record": (planned_erasure, {}, count_of(Erasure, cancelled_at__isnull=False), 1),
    "new practice link": (address_of("clients:practice_link"), {"what": "new"}, count_of(User, role="client"), 1),
    "revoke a link": (address_of("clients:practice_link"), {"revoke": ""}, count_of(Client, practice_code=None), 1),
    "add a helper": (address_of("clients:add_helper"), {"name": "Ana", "relation": "daughter"}, count_of(Helper), 1),
    "a helper's new link": (with_helper, {"what": "new"}, count_of(Helper), 1),
    "end a helper": (with_helper, {"revoke": ""}, count_of(Helper), 1),
    "share": (address_of("clinic:shared"), "share", count_of(Client, shared_with__isnull=False), 1),
    "save a record": (address_of("clients:record"), "record", count_of(Client.history.model, name="Another Name"), 1),
    "begin a sheet": (address_of("baseline:all"), {}, count_of(Baseline), 1),
    "close a sheet": (with_sheet("baseline:close"), {}, count_of(Baseline, closed_at__isnull=False), 1),
    "discard a trial": (with_trial("discard"), {}, count_of(BaselineTrial, discarded_at__isnull=False), 1),
    "choose a trial": (with_trial("choose"), {"words": "the best is a cough"}, count_of(BaselineTrial, chosen_because="the best is a cough"), 1),
    "publish a draft": (open_draft, "draft", count_of(ProgrammeVersion), 1),
    "withdraw a version": (with_versions("programmes:withdraw"), {}, count_of(ProgrammeVersion, withdrawn_at__isnull=False), 1),
    "publish again": (with_versions("programmes:again", 1), {}, count_of(ProgrammeVersion), 3),
    "prescribe one sound": (address_of("programmes:prescribe"), "one sound", count_of(ProgrammeVersion), 1),
    "begin a note": (address_of("notes:new_note"), {"kind": "progress"}, count_of(ClinicalNote), 1),
    "save a note": (of_a_note("notes:note"), {"edition": "1", "action": "save"}, count_of(ClinicalNote), 1),
    "sign a note": (of_a_note("notes:sign_note"), "a note", count_of(ClinicalNote), 1),
    "discard a note": (of_a_note("notes:discard_note"), {}, count_of(ClinicalNote), 0),
    "add to a note": (of_a_note("notes:add_to_note", signed=True), {"words": "And more."}, count_of(ClinicalNote), 1),
    "change the rules": (address_of("decisions:rules"), "rules", count_of(RuleSettings.history.model), 1),
    "take back today's last": (accepted_proposal, {}, count_of(Decision, undone_at__isnull=False), 1),
    "leave a trial out": (with_a_trial("leave_out_trial"), {}, count_of(Trial, set_aside="by_clinician"), 1),
    "a message after practice": (address_of("results:write_message"), {"text": "Well held."}, count_of(PracticeMessage), 1),
    "count a trial": (with_a_trial("count_trial"), {}, count_of(Trial, set_aside=""), 1),
    "hide a task": (lambda person, by: reverse("catalogue:hide", args=["straw_hold"]), {}, count_of(HiddenTask), 1),
    "put an entry away": (with_entry, {}, count_of(LibraryEntry, archived_at__isnull=False), 1),
    "add lines": (plain("catalogue:add_lines"), {"name": "Quay", "lines": "One.\nTwo."}, count_of(LibraryEntry), 1),
    "add a reference": (plain("clinic:add_reference"), {"measure": "span_st", "low": "3"}, count_of(ReferenceFigure), 1),
    "remove a reference": (with_figure, {}, count_of(ReferenceFigure), 0),
    "change the clinic": (plain("clinic:clinic"), "clinic", count_of(Clinic.history.model, name="Quayside"), 1),
    "invite": (plain("clinic:invite"), {"name": "Sasha Quay", "mail": "s@x.example", "role": "clinician"}, count_of(User, email="s@x.example"), 1),
    "another password link": (with_colleague("clinic:new_link"), {}, count_of(User), 5),
    "change a role": (with_colleague("clinic:role"), {"role": "viewer"}, count_of(User, role="viewer"), 1),
    "deactivate an account": (with_colleague("clinic:deactivate"), {}, count_of(User, is_active=False), 1),
    "reactivate an account": (with_deactivated, {}, count_of(User, is_active=False), 0),
    "arrange cover": (plain("clinic:cover"), "cover", count_of(Cover), 1),
    "end cover": (with_cover, {}, count_of(Cover), 0),
    "a new tablet": (plain("practice:tablets"), {"new-name": "Front room"}, count_of(Tablet), 1),
    "end a tablet": (with_tablet, {"end": ""}, count_of(Tablet, ended_at__isnull=False), 1),
}  # fmt: skip


def fields_of(said, person, clinician):
    """Return the fields of a pair with the values that depend on the client."""
    day = timezone.localdate().isoformat()
    return {
        "screening": lambda: screening(person, yes="caution_latex"),
        "erasure": lambda: {"why": "asked to", "name": person.name},
        "record": lambda: {"name": "Another Name", "voice": "bass", "edition": person.edition, "spelling": "sharps"},
        "one sound": lambda: {"sound": "oh", "note": "F3", "target_s": "5", "counts": "total", "tries": "3"},
        "share": lambda: {"with": ClinicianFactory(clinic=person.clinic).pk},
        "draft": lambda: {"seen": person.draft.edition},
        "rules": lambda: {next(iter(asdict(Settings()))): RANGES[next(iter(asdict(Settings())))][1]},
        "clinic": lambda: settings_of(person.clinic, name="Quayside", lead=clinician.pk,
                                      deputy=clinician.pk),
        "a note": lambda: {
            **{code: "Held well." for code, _ in PARTS[ClinicalNote.Kind.PROGRESS]}, "read": "yes", "edition": "1",
        },
        "cover": lambda: {
            "absent": clinician.pk, "substitute": ClinicianFactory(clinic=person.clinic).pk,
            "first_day": day, "last_day": day,
        },
    }[said]()  # fmt: skip


def test_there_are_forty_pairs():
    assert len(PAIRS) >= 40


@pytest.mark.parametrize("send", [at_once, in_turn], ids=["at once", "in turn"])
@pytest.mark.parametrize("pair", PAIRS.values(), ids=PAIRS)
def test_twice_has_one_effect_and_no_fault(pair, send, person, colleagues):
    lead, *_ = colleagues
    address, said, counted, wanted = pair
    url = address(person, lead)
    said = fields_of(said, person, lead) if isinstance(said, str) else said
    answers = twice(lead, url, said, send=send)
    # At least one succeeded: a pair that is rejected twice proves nothing.
    assert min(each.status_code for each in answers) < 400
    assert counted(person) == wanted
    if send is in_turn:
        return
    # Nothing is broken: the pages of the client still open.
    for page in ("record:summary", "results:client"):
        assert signed_in(lead).get(reverse(page, args=[person.pk])).status_code == 200
    assert signed_in(lead).get(reverse("decisions:board")).status_code == 200


def test_each_stop_is_counted_once_however_often_it_is_sent_at_once(person, clinician, task):
    said = {"key": str(uuid.uuid4())}
    gate = threading.Barrier(4)
    answers = []

    def send():
        gate.wait(30)
        answers.append(
            send_stop(Browser(raise_request_exception=False), person, **said).status_code
        )
        connection.close()

    threads = [threading.Thread(target=send) for _ in range(4)]
    for each in threads:
        each.start()
    for each in threads:
        each.join()
    assert answers == [200] * 4
    assert Stop.objects.filter(client=person).count() == 1
