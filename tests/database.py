"""One migrated database, copied for each test process.

Migrating takes fifteen seconds and copying a tenth of one. The template is named after everything it is
made from, so it stays valid between runs and a changed migration makes a new one.

    python -m tests.database      makes the template if it is missing
"""

import hashlib
import os
import subprocess
import sys
from contextlib import contextmanager
from pathlib import Path
from urllib.parse import quote

import psycopg
from django.db import transaction
from psycopg import sql

ROOT = Path(__file__).resolve().parents[1]
TEMPLATE, COPY = "reed_template_", "reed_test_"
#: Any number: two runs that start together wait for the same template.
LOCK = 4127


def template_name():
    """Return the name of the template for the migrations as they are now."""
    digest = hashlib.sha256()
    sources = [*ROOT.glob("web/*/migrations/*.py"), ROOT / "requirements" / "base.txt"]
    for path in sorted(sources):
        digest.update(path.relative_to(ROOT).as_posix().encode() + path.read_bytes())
    return TEMPLATE + digest.hexdigest()[:16]


@contextmanager
def administration(server):
    """Yield a connection to the server's maintenance database.

    Args:
        server: Django's settings of the database.
    """
    with psycopg.connect(
        host=server["HOST"], port=server["PORT"], user=server["USER"],
        password=server["PASSWORD"], dbname="postgres", autocommit=True,
    ) as connection:  # fmt: skip
        yield connection


def databases(connection, start):
    """Return the names of the databases with this prefix."""
    found = connection.execute(
        "select datname from pg_database where starts_with(datname, %s)", [start]
    )
    return [name for (name,) in found]


def drop(connection, name):
    connection.execute(
        sql.SQL("drop database if exists {} with (force)").format(sql.Identifier(name))
    )


def create(connection, name, *, template="template1"):
    connection.execute(
        sql.SQL("create database {} template {}").format(
            sql.Identifier(name), sql.Identifier(template)
        )
    )


def ensure_template(server):
    """Migrate a database if necessary, and return its name."""
    name = template_name()
    with administration(server) as connection:
        connection.execute("select pg_advisory_lock(%s)", [LOCK])
        if name in databases(connection, TEMPLATE):
            return name
        for old in databases(connection, TEMPLATE):
            drop(connection, old)
        unfinished = TEMPLATE + "unfinished"
        create(connection, unfinished)
        who = f"{quote(server['USER'])}:{quote(server['PASSWORD'])}"
        address = f"postgres://{who}@{server['HOST']}:{server['PORT']}/{unfinished}"
        subprocess.run(
            [sys.executable, "manage.py", "migrate", "--verbosity", "0"],
            check=True, cwd=ROOT,
            env={**os.environ, "DATABASE_URL": address, "DJANGO_SETTINGS_MODULE": "web.config.settings.test"},
        )  # fmt: skip
        connection.execute(
            sql.SQL("alter database {} rename to {}").format(
                sql.Identifier(unfinished), sql.Identifier(name)
            )
        )
    return name


def make_copy(server):
    """Copy the template for this process and return the copy's name."""
    template = ensure_template(server)
    name = f"{COPY}{os.getpid()}"
    with administration(server) as connection:
        for left in databases(connection, COPY):
            if not Path(f"/proc/{left.removeprefix(COPY)}").exists():  # Left by a killed run.
                drop(connection, left)
        drop(connection, name)
        create(connection, name, template=template)
    return name


def delete_rows(connection):
    """Delete every row that a test committed, including the queue's; rows of migrations stay.

    Only tables with rows are touched: truncating all 130 costs as much as a browser test.
    """
    kept = {"django_migrations", "django_content_type", "auth_permission"}
    with connection.cursor() as cursor:
        names = [
            each.name
            for each in connection.introspection.get_table_list(cursor)
            if each.type == "t" and each.name not in kept
        ]
        exists = sql.SQL("select {} where exists (select from {})")
        rows_in = [exists.format(sql.Literal(name), sql.Identifier(name)) for name in names]
        cursor.execute(sql.SQL(" union all ").join(rows_in))
        full = [name for (name,) in cursor.fetchall()]
    with transaction.atomic(), connection.cursor() as cursor:
        # The order does not matter while foreign keys are not enforced.
        cursor.execute("set local session_replication_role = replica")
        for name in full:
            cursor.execute(sql.SQL("delete from {}").format(sql.Identifier(name)))


if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "web.config.settings.test")
    from django.conf import settings

    ensure_template(settings.DATABASES["default"])
