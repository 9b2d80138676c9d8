"""A backup of everything, and the proof that it can be brought back.

All that is kept stands in the database: records, programmes, sound, pictures, the log. PostgreSQL's
own tools write and read it; beside the dump stands what was in it, table by table, and which keys
it needs; and the journal, which a restore is carried on with.
"""

from __future__ import annotations

import hashlib
import json
import os
import shutil
import subprocess
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Any
from urllib.parse import quote

import psycopg
from django.conf import settings
from django.db import connection, transaction
from psycopg import sql

from web.keeping import journal
from web.keeping.keyring import fingerprint
from web.ui.version import version


class NoBackup(Exception):
    """A backup failed or is incomplete; the message is for the administrator."""


@dataclass(frozen=True)
class Backup:
    """A dump with row counts of the same snapshot."""

    dump: Path

    @property
    def manifest(self) -> Path:
        """Return the manifest's path, next to the dump."""
        return self.dump.with_suffix(".json")

    @property
    def journal(self) -> Path:
        """Return the copy of the journal, in the same folder for all backups."""
        return self.dump.parent / "journal"

    def read_manifest(self) -> dict:
        """Return the contents of the manifest.

        Raises:
            NoBackup: it is missing or cannot be read.
        """
        try:
            return json.loads(self.manifest.read_text())
        except (OSError, ValueError) as error:
            raise NoBackup(f"{self.manifest} is missing or cannot be read.") from error

    @property
    def made_at(self) -> datetime:
        """Return the time of the dump's snapshot."""
        return datetime.fromisoformat(self.read_manifest()["at"])


def tool(name: str) -> str:
    """Return PostgreSQL's own program, from the path or from Debian's folder.

    Raises:
        NoBackup: it is not installed.
    """
    versions = sorted(Path("/usr/lib/postgresql").glob("*/bin"), key=lambda each: each.parent.name)
    found = [str(each / name) for each in reversed(versions) if (each / name).exists()]
    path = found[0] if found else shutil.which(name)
    if path is None:
        raise NoBackup(f"{name} is missing: install Debian's postgresql-client.")
    return path


def _connection_environment() -> dict[str, str]:
    """Return where the database is, for PostgreSQL's tools."""
    to = connection.settings_dict
    given = {
        "PGHOST": to["HOST"],
        "PGPORT": str(to["PORT"] or ""),
        "PGUSER": to["USER"],
        "PGPASSWORD": to["PASSWORD"],
        "PGDATABASE": to["NAME"],
    }
    return {**os.environ, **{name: value for name, value in given.items() if value}}


def _run(*command: str) -> None:
    done = subprocess.run(command, env=_connection_environment(), capture_output=True, text=True)  # noqa: S603
    if done.returncode:
        raise NoBackup(f"{Path(command[0]).name}: {done.stderr.strip()[-800:]}")


def back_up(folder: Path, *, keep: int = 0) -> Backup:
    """Write a backup named after the time, and remove all but the newest ``keep`` (0: none).

    Raises:
        NoBackup: it could not be written; nothing half-written is left.
    """
    folder.mkdir(parents=True, exist_ok=True)
    made = Backup(folder / f"still-reed-{datetime.now(UTC):%Y%m%d-%H%M%S}.dump")
    part = made.dump.with_suffix(".part")
    try:
        # Dump the database and files from one snapshot so they match.
        with transaction.atomic(), connection.cursor() as cursor:
            cursor.execute("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ")
            cursor.execute("SELECT pg_export_snapshot()")
            (snapshot,) = cursor.fetchone()
            at = datetime.now(UTC)
            counts = _counts(cursor)
            _run(tool("pg_dump"), "-Fc", f"--snapshot={snapshot}", f"--file={part}")
        manifest = {
            "at": at.isoformat(),
            "version": version(),
            "keys": keys_in_use(),
            "rows": counts,
            "sha256": _digest(part),
        }
        made.manifest.write_text(json.dumps(manifest, indent=1) + "\n")
        part.rename(made.dump)
        copy_journal(made.journal)
    finally:
        part.unlink(missing_ok=True)
    if keep:
        for old in sorted(folder.glob("still-reed-*.dump"))[:-keep]:
            old.with_suffix(".json").unlink(missing_ok=True)
            old.unlink()
    return made


def keys_in_use() -> dict[str, str]:
    """Return fingerprints of the keys that a backup needs; the keys themselves are in no backup."""
    pepper = getattr(settings, "PASSWORD_PEPPER", "")
    return {
        "SECRET_KEY": fingerprint(settings.SECRET_KEY),
        "PASSWORD_PEPPER": fingerprint(pepper),
    }


def restore_instructions(made: Backup) -> list[str]:
    """Return everything that it takes to bring a backup back elsewhere, a line each."""
    keys = ["SECRET_KEY", *(["SECRET_KEY_FALLBACKS"] if settings.SECRET_KEY_FALLBACKS else [])]
    if getattr(settings, "PASSWORD_PEPPER", ""):
        keys.append("PASSWORD_PEPPER")
    return [
        f"{made.dump} and {made.manifest.name}: every record, and what was counted",
        f"{made.journal}: what a restore must not undo; copy it more often than the rest",
        f"from /etc/still-reed/environment, kept apart from the dump: {', '.join(keys)}",
        f"the wheel of this version: {version()}",
    ]


def missing_keys(backup: Backup) -> list[str]:
    """Return which of the keys that a backup was made with are not those of these settings."""
    here, older = keys_in_use(), (fingerprint(str(each)) for each in settings.SECRET_KEY_FALLBACKS)
    expected = backup.read_manifest().get("keys", {})
    held = {"SECRET_KEY": {here["SECRET_KEY"], *older}}
    return [
        name
        for name, print_ in expected.items()
        if print_ and print_ not in held.get(name, {here.get(name)})
    ]


def copy_journal(to: Path) -> None:
    """Add this machine's journal to the copy next to the backups."""
    if journal.folder().is_dir():
        shutil.copytree(journal.folder(), to, dirs_exist_ok=True)


def restore(backup: Backup, *, into: str) -> None:
    """Bring one back into a database that is not there yet, as it was; `finish_restore` follows.

    Raises:
        NoBackup: the file is damaged, or the database is there already.
    """
    _verify(backup)
    with connection.cursor() as cursor:
        cursor.execute("SELECT 1 FROM pg_database WHERE datname = %s", [into])
        if cursor.fetchone():
            raise NoBackup(f"There is a database “{into}” already: nothing was touched.")
        cursor.execute(sql.SQL("CREATE DATABASE {}").format(sql.Identifier(into)))
    given = ("--no-owner", "--exit-on-error", f"--dbname={into}", str(backup.dump))
    try:
        _run(tool("pg_restore"), *given)
    except NoBackup:
        _drop(into)  # A half-written backup is worthless.
        raise


def check(backup: Backup) -> int:
    """Restore a backup into a scratch database, count every table, and remove it.

    Returns:
        how many rows it holds.

    Raises:
        NoBackup: it is damaged, or not all of it came back.
    """
    scratch = f"still_reed_check_{os.getpid()}"
    restore(backup, into=scratch)
    try:
        there = _count_rows(scratch)
    finally:
        _drop(scratch)
    expected = backup.read_manifest()["rows"]
    off = [name for name in expected if there.get(name) != expected[name]]
    if off:
        raise NoBackup(f"Not all of it came back: {', '.join(off)}.")
    return sum(expected.values())


def url_of(database: str) -> str:
    """Return the address of another database on the same server, in the format of the settings."""
    to = connection.settings_dict
    who = ":".join(quote(to[name], safe="") for name in ("USER", "PASSWORD") if to[name])
    where = ":".join(str(to[name]) for name in ("HOST", "PORT") if to[name])
    return f"postgres://{who}@{where}/{database}"


def _drop(database: str) -> None:
    with connection.cursor() as cursor:
        cursor.execute(sql.SQL("DROP DATABASE {}").format(sql.Identifier(database)))


def _verify(backup: Backup) -> None:
    expected = backup.read_manifest().get("sha256")
    if not backup.dump.exists() or _digest(backup.dump) != expected:
        raise NoBackup(f"{backup.dump} is missing, or is not what was written.")


def _digest(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def _counts(cursor: Any) -> dict[str, int]:
    cursor.execute("SELECT tablename FROM pg_tables WHERE schemaname = 'public' ORDER BY 1")
    counts = {}
    for (name,) in cursor.fetchall():
        cursor.execute(sql.SQL("SELECT count(*) FROM {}").format(sql.Identifier(name)))
        (counts[name],) = cursor.fetchone()
    return counts


def _count_rows(database: str) -> dict[str, int]:
    to = connection.settings_dict
    with psycopg.connect(
        host=to["HOST"] or None,
        port=to["PORT"] or None,
        user=to["USER"] or None,
        password=to["PASSWORD"] or None,
        dbname=database,
    ) as there:
        return _counts(there.cursor())
