"""A backup of everything, and the proof that it can be brought back.

All that is kept stands in the database: records, programmes, sound, pictures, the log. PostgreSQL's
own tools write and read it; beside the dump stands what was in it, table by table.
"""

import hashlib
import json
import os
import shutil
import subprocess
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

import psycopg
from django.db import connection, transaction
from psycopg import sql


class NoBackup(Exception):
    """Why there is none, or why it is not what it should be; for whoever runs the site."""


@dataclass(frozen=True)
class Backup:
    """A dump, and what was counted while it was made."""

    dump: Path

    @property
    def manifest(self) -> Path:
        """Beside the dump."""
        return self.dump.with_suffix(".json")


def tool(name: str) -> str:
    """PostgreSQL's own program, from the path or from Debian's place of it.

    Raises:
        NoBackup: it is not installed.
    """
    versions = sorted(Path("/usr/lib/postgresql").glob("*/bin"), key=lambda each: each.parent.name)
    found = [str(each / name) for each in reversed(versions) if (each / name).exists()]
    path = found[0] if found else shutil.which(name)
    if path is None:
        raise NoBackup(f"{name} is missing: install Debian's postgresql-client.")
    return path


def _with() -> dict[str, str]:
    """Where the database is, for PostgreSQL's tools."""
    settings = connection.settings_dict
    given = {
        "PGHOST": settings["HOST"],
        "PGPORT": str(settings["PORT"] or ""),
        "PGUSER": settings["USER"],
        "PGPASSWORD": settings["PASSWORD"],
        "PGDATABASE": settings["NAME"],
    }
    return {**os.environ, **{name: value for name, value in given.items() if value}}


def _run(*command: str) -> None:
    done = subprocess.run(command, env=_with(), capture_output=True, text=True)  # noqa: S603
    if done.returncode:
        raise NoBackup(f"{Path(command[0]).name}: {done.stderr.strip()[-800:]}")


def back_up(folder: Path, *, keep: int = 0) -> Backup:
    """Writes one, named after the time, and takes away all but the newest ``keep`` (0: none).

    Raises:
        NoBackup: it could not be written; nothing half-written is left.
    """
    folder.mkdir(parents=True, exist_ok=True)
    made = Backup(folder / f"still-reed-{datetime.now(UTC):%Y%m%d-%H%M%S}.dump")
    part = made.dump.with_suffix(".part")
    try:
        # both see the same moment: what is written meanwhile is in neither
        with transaction.atomic(), connection.cursor() as cursor:
            cursor.execute("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ")
            cursor.execute("SELECT pg_export_snapshot()")
            (snapshot,) = cursor.fetchone()
            counts = _counts(cursor)
            _run(tool("pg_dump"), "-Fc", f"--snapshot={snapshot}", f"--file={part}")
        told = {"rows": counts, "sha256": _digest(part)}
        made.manifest.write_text(json.dumps(told, indent=1) + "\n")
        part.rename(made.dump)
    finally:
        part.unlink(missing_ok=True)
    if keep:
        for old in sorted(folder.glob("still-reed-*.dump"))[:-keep]:
            old.with_suffix(".json").unlink(missing_ok=True)
            old.unlink()
    return made


def restore(backup: Backup, *, into: str) -> None:
    """Brings one back into a database that is not there yet.

    Raises:
        NoBackup: the file is damaged, or the database is there already.
    """
    _look_at(backup)
    with connection.cursor() as cursor:
        cursor.execute("SELECT 1 FROM pg_database WHERE datname = %s", [into])
        if cursor.fetchone():
            raise NoBackup(f"There is a database “{into}” already: nothing was touched.")
        cursor.execute(sql.SQL("CREATE DATABASE {}").format(sql.Identifier(into)))
    given = ("--no-owner", "--exit-on-error", f"--dbname={into}", str(backup.dump))
    try:
        _run(tool("pg_restore"), *given)
    except NoBackup:
        _drop(into)  # half of it is nothing
        raise


def check(backup: Backup) -> int:
    """Brings one back beside what is in use, counts every table, and takes it away again.

    Returns:
        how many rows it holds.

    Raises:
        NoBackup: it is damaged, or not all of it came back.
    """
    scratch = f"still_reed_check_{os.getpid()}"
    restore(backup, into=scratch)
    try:
        there = _counts_in(scratch)
    finally:
        _drop(scratch)
    wanted = json.loads(backup.manifest.read_text())["rows"]
    off = [name for name in wanted if there.get(name) != wanted[name]]
    if off:
        raise NoBackup(f"Not all of it came back: {', '.join(off)}.")
    return sum(wanted.values())


def _drop(database):
    with connection.cursor() as cursor:
        cursor.execute(sql.SQL("DROP DATABASE {}").format(sql.Identifier(database)))


def _look_at(backup):
    try:
        wanted = json.loads(backup.manifest.read_text())["sha256"]
    except (OSError, ValueError, KeyError) as error:
        raise NoBackup(f"{backup.manifest} is missing or cannot be read.") from error
    if not backup.dump.exists() or _digest(backup.dump) != wanted:
        raise NoBackup(f"{backup.dump} is missing, or is not what was written.")


def _digest(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def _counts(cursor) -> dict[str, int]:
    cursor.execute("SELECT tablename FROM pg_tables WHERE schemaname = 'public' ORDER BY 1")
    counts = {}
    for (name,) in cursor.fetchall():
        cursor.execute(sql.SQL("SELECT count(*) FROM {}").format(sql.Identifier(name)))
        (counts[name],) = cursor.fetchone()
    return counts


def _counts_in(database: str) -> dict[str, int]:
    settings = connection.settings_dict
    with psycopg.connect(
        host=settings["HOST"] or None,
        port=settings["PORT"] or None,
        user=settings["USER"] or None,
        password=settings["PASSWORD"] or None,
        dbname=database,
    ) as there:
        return _counts(there.cursor())
