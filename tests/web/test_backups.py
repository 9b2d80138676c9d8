"""A backup holds everything, and a damaged one is never brought back."""

import hashlib
import json
import os

import pytest
from django.core.management import CommandError, call_command
from django.db import connection
from psycopg import sql

from web.clients.models import Client
from web.scheduled.backups import Backup, NoBackup, back_up, check, restore

pytestmark = pytest.mark.django_db(transaction=True)
SCRATCH = f"still_reed_test_{os.getpid()}"


@pytest.fixture
def scratch():
    yield SCRATCH
    with connection.cursor() as cursor:
        cursor.execute(sql.SQL("DROP DATABASE IF EXISTS {}").format(sql.Identifier(SCRATCH)))


def test_what_was_written_comes_back_row_by_row(tmp_path, prescribed):
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


def test_only_the_newest_are_kept(tmp_path, prescribed, capsys):
    for day in ("20260101", "20260102"):
        for end in ("dump", "json"):
            (tmp_path / f"still-reed-{day}-000000.{end}").write_text("")
    call_command("backup", tmp_path, keep=2, check=True)
    assert "Brought back beside and counted" in capsys.readouterr().out
    assert len(list(tmp_path.glob("*.dump"))) == len(list(tmp_path.glob("*.json"))) == 2
    with pytest.raises(CommandError):
        call_command("restore", tmp_path / "still-reed-20260102-000000.dump", into=SCRATCH)
