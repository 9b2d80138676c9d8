"""A backup contains everything, and a damaged one is never restored."""

import hashlib
import json
import os

import psycopg
import pytest
from django.core.management import CommandError, call_command
from django.db import connection
from psycopg import sql

from web.clients.actions import revoke_practice_access
from web.clients.models import Client
from web.scheduled.backups import Backup, NoBackup, back_up, check, restore, url_of
from web.scheduled.models import JobRun

pytestmark = pytest.mark.django_db(transaction=True)
SCRATCH = f"still_reed_test_{os.getpid()}"


@pytest.fixture
def scratch():
    yield SCRATCH
    with connection.cursor() as cursor:
        cursor.execute(sql.SQL("DROP DATABASE IF EXISTS {}").format(sql.Identifier(SCRATCH)))


def test_a_restored_backup_has_the_same_rows(tmp_path, prescribed):
    made = back_up(tmp_path)
    told = json.loads(made.manifest.read_text())["rows"]
    assert told["clients_client"] == Client.objects.count() == 1
    assert check(made) == sum(told.values())


def test_a_change_after_it_was_counted_is_seen(tmp_path, prescribed):
    made = back_up(tmp_path)
    told = json.loads(made.manifest.read_text())
    told["rows"]["clients_client"] += 1
    made.manifest.write_text(json.dumps(told))
    with pytest.raises(NoBackup, match="clients_client"):
        check(made)


def test_a_torn_file_and_a_database_in_use_are_refused(tmp_path, prescribed, scratch):
    made = back_up(tmp_path)
    with pytest.raises(NoBackup, match="already"):
        restore(made, into=connection.settings_dict["NAME"])
    made.dump.write_bytes(made.dump.read_bytes()[:-10])
    with pytest.raises(NoBackup, match="not what was written"):
        restore(made, into=scratch)
    with pytest.raises(NoBackup, match="missing"):
        restore(Backup(tmp_path / "none.dump"), into=scratch)


def test_a_dump_that_cannot_be_read_leaves_no_half_database(tmp_path, prescribed, scratch):
    made = back_up(tmp_path)
    made.dump.write_bytes(made.dump.read_bytes()[: made.dump.stat().st_size // 2])
    told = json.loads(made.manifest.read_text())
    told["sha256"] = hashlib.sha256(made.dump.read_bytes()).hexdigest()
    made.manifest.write_text(json.dumps(told))
    with pytest.raises(NoBackup, match="pg_restore"):
        restore(made, into=scratch)
    with connection.cursor() as cursor:
        cursor.execute("SELECT count(*) FROM pg_database WHERE datname = %s", [scratch])
        assert cursor.fetchone() == (0,)


def test_the_backup_lists_the_files_to_keep_and_its_outcome(tmp_path, prescribed, settings, capsys):
    settings.JOURNAL_FOLDER = str(tmp_path / "of the machine")
    settings.PASSWORD_PEPPER = "pepper"
    revoke_practice_access(Client.objects.get())
    call_command("backup", tmp_path / "kept")
    said = capsys.readouterr().out
    for each in (".dump", ".json", "journal", "SECRET_KEY", "PASSWORD_PEPPER", "wheel"):
        assert each in said
    (copy,) = (tmp_path / "kept" / "journal").iterdir()
    assert "link_closed" in copy.read_text()
    assert JobRun.objects.get().succeeded
    (tmp_path / "file").write_text("")
    with pytest.raises(CommandError):
        call_command("backup", tmp_path / "file" / "below")
    assert not JobRun.objects.first().succeeded


def test_a_restore_carries_the_records_on_to_now(tmp_path, prescribed, settings, scratch, capsys):
    settings.JOURNAL_FOLDER = str(tmp_path / "journal")
    person = Client.objects.get()
    made = back_up(tmp_path)
    revoke_practice_access(person)
    settings.SECRET_KEY = "another"
    call_command("restore", made.dump, into=scratch)
    told = capsys.readouterr()
    assert "1 links closed" in told.out
    assert "SECRET_KEY differs from the one of this backup" in told.err
    with psycopg.connect(url_of(scratch)) as there:
        rows = there.execute("SELECT practice_code FROM clients_client").fetchall()
        epochs = there.execute("SELECT restored_to FROM keeping_epoch").fetchall()
    assert rows == [(None,)]
    assert epochs == [(made.made_at,)]


def test_only_the_newest_are_kept(tmp_path, prescribed, capsys):
    for day in ("20260101", "20260102"):
        for end in ("dump", "json"):
            (tmp_path / f"still-reed-{day}-000000.{end}").write_text("")
    call_command("backup", tmp_path, keep=2, check=True)
    assert "Verified by a restore:" in capsys.readouterr().out
    assert len(list(tmp_path.glob("*.dump"))) == len(list(tmp_path.glob("*.json"))) == 2
    with pytest.raises(CommandError):
        call_command("restore", tmp_path / "still-reed-20260102-000000.dump", into=SCRATCH)
