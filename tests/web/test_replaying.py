"""Links disabled, records erased and keys made after a backup are so again after its restore."""

from datetime import timedelta

import pytest
from django.core.management import CommandError, call_command
from django.utils import timezone

from tests.factories import ClientFactory, ClinicianFactory
from tests.pages import read
from tests.web.test_sealing import sealed
from web.accounts.models import User
from web.clients.actions import issue_practice_access, revoke_practice_access
from web.clients.actions.people import deactivate_account
from web.clients.models import Client, Erasure
from web.intake.opening import EntryNotDecrypted, open_sealed
from web.keeping import journal
from web.keeping.epoch import epoch, recent_restore
from web.practice.models import DeviceKey
from web.practice.sealing import key_of, open_keys, seal_keys, sealing_key
from web.scheduled import restore_replay
from web.scheduled.retention import erase_expired

pytestmark = pytest.mark.django_db(transaction=True)


@pytest.fixture(autouse=True)
def folder(settings, tmp_path):
    settings.JOURNAL_FOLDER = str(tmp_path / "journal")
    return tmp_path / "journal"


def replay(folder, since):
    return {
        what: n
        for what, n in restore_replay.finish_restore([folder], restored_to=since).items()
        if n
    }


def kept(model, **which):
    """Return a row as in the backup."""
    return model.objects.filter(**which).values().get()


def as_in_the_backup(model, row):
    model.objects.filter(pk=row["id"]).update(**row)


def test_a_link_that_was_closed_or_replaced_opens_no_more(folder, person):
    other = ClientFactory(clinic=person.clinic)
    backup = [kept(Client, pk=each.pk) for each in (person, other)]
    since = timezone.now()
    revoke_practice_access(person)
    issue_practice_access(other)
    for row in backup:
        as_in_the_backup(Client, row)
    assert replay(folder, since) == {restore_replay.CLOSED: 2}
    assert set(Client.objects.values_list("practice_code", flat=True)) == {None}


def test_accounts_closed_before_the_backup_stay_as_in_the_backup(folder, person):
    row = kept(Client, pk=person.pk)
    revoke_practice_access(person)
    as_in_the_backup(Client, row)
    assert replay(folder, timezone.now()) == {}
    assert Client.objects.get(pk=person.pk).practice_code == row["practice_code"]


def test_a_closed_account_is_closed_again(folder, person, clinician):
    lead = ClinicianFactory(clinic=person.clinic)
    row = kept(User, pk=clinician.pk)
    since = timezone.now()
    deactivate_account(clinician, to=lead, by=lead)
    as_in_the_backup(User, row)
    assert replay(folder, since) == {restore_replay.ACCOUNTS: 1}
    assert not User.objects.get(pk=clinician.pk).is_active


def test_an_erased_client_is_erased_again_but_not_a_later_client_with_the_same_number(
    folder, person, clinician
):
    row = kept(Client, pk=person.pk)
    since = timezone.now()
    Client.objects.filter(pk=person.pk).update(archived_at=since)
    Erasure.objects.create(clinic=person.clinic, record=person.pk, reason="asked", due_at=since)
    erase_expired()
    assert not Client.objects.filter(pk=person.pk).exists()
    row |= {"account_id": None, "practice_code": None}
    Client.objects.create(**row)
    Client.objects.filter(pk=row["id"]).update(created_at=row["created_at"])
    Erasure.objects.all().delete()
    assert replay(folder, since)[restore_replay.GONE] == 1
    assert not Client.objects.filter(pk=row["id"]).exists()
    assert Erasure.objects.get().done_at is not None
    Client.objects.create(**row)  # Begun now, with the freed number.
    assert restore_replay.GONE not in replay(folder, since)
    assert Client.objects.filter(pk=row["id"]).exists()


def test_a_key_made_since_the_backup_opens_what_lies_on_the_device(folder, person):
    what = sealed(person, {"kind": "begun"})
    since = timezone.now() + timedelta(hours=1)  # Keys are restored however old the entry is.
    DeviceKey.objects.all().delete()
    with pytest.raises(EntryNotDecrypted):
        open_sealed(person, what)
    assert replay(folder, since) == {restore_replay.KEYS: 1}
    assert open_sealed(person, what).words == '{"kind": "begun"}'
    assert b"PRIVATE" not in (folder / next(folder.iterdir()).name).read_bytes()


def test_a_key_that_no_key_of_the_sites_opens_is_counted_and_made_anew(folder, person, settings):
    sealing_key(person)
    seal_keys()
    settings.SECRET_KEY = "another machine's"
    assert seal_keys() == 1
    assert replay(folder, timezone.now()) == {restore_replay.SHUT: 1}
    assert key_of(person.pk) is None
    assert open_sealed(person, sealed(person, {"kind": "begun"})).words


def test_keys_are_sealed_in_the_database_and_readable_for_an_older_version(person):
    point = sealing_key(person)
    readable = bytes(DeviceKey.objects.get().private)
    assert seal_keys() == 0
    shut = bytes(DeviceKey.objects.get().private)
    assert readable not in shut
    assert seal_keys() == 0
    assert bytes(DeviceKey.objects.get().private) == shut  # Not again each night.
    assert sealing_key(person) == point
    open_keys()
    assert bytes(DeviceKey.objects.get().private) == readable


def test_a_torn_line_of_the_journal_and_two_copies_are_no_trouble(folder, person):
    row, since = kept(Client, pk=person.pk), timezone.now()
    revoke_practice_access(person)
    as_in_the_backup(Client, row)
    (line,) = (path.read_text() for path in folder.iterdir())
    (folder / "another.jsonl").write_text(line + line[:20])
    assert [each.what for each in journal.lines(folder, folder)] == [journal.LINK_CLOSED]
    assert replay(folder, since) == {restore_replay.CLOSED: 1}


def test_an_unwritable_journal_delays_nothing_and_is_reported(settings, person, tmp_path):
    (tmp_path / "file").write_text("")
    settings.JOURNAL_FOLDER = str(tmp_path / "file" / "journal")
    revoke_practice_access(person)
    assert Client.objects.get(pk=person.pk).practice_code is None


def test_the_board_says_that_the_records_were_restored_and_from_when(as_clinician, person):
    assert "the records were restored" not in read(as_clinician.get("/board/"))
    epoch()
    assert recent_restore() is None
    call_command("finish_restore", restored_to="2026-11-29T22:00:00+00:00")
    page = read(as_clinician.get("/board/"))
    assert "the records were restored to 29 November, 22:00" in page


@pytest.mark.parametrize("moment", ["yesterday", "2026-11-29T22:00:00"])
def test_a_moment_that_is_none_is_refused_before_anything_is_done(moment):
    with pytest.raises(CommandError, match="2026-11-30T14:00:00"):
        call_command("finish_restore", restored_to=moment)
    assert recent_restore() is None
