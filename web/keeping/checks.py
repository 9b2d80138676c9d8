"""Refuses a database that stopped halfway before the migrations were squashed."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.core.checks import CheckMessage, Error, Tags, register
from django.core.management import call_command
from django.db import connections
from django.db.migrations.loader import MigrationLoader

#: The last version whose migrations lead to the squashed ones (docs/running/keeping.md).
STOP_OVER = "0.2.dev289+gb49bd08d3"


@register(Tags.database)
def check_squashed_migrations(
    app_configs: Any, databases: Sequence[str] | None, **kwargs: Any
) -> list[CheckMessage]:
    """Report a database that has only some of the migrations that were squashed."""
    return [
        Error(
            f"the database {alias} is older than this version can migrate",
            hint=f"Install Still Reed {STOP_OVER}, run migrate with it, then install this version",
            id="still_reed.E007",
            obj=alias,
        )
        for alias in databases or ()
        if _stopped_halfway(alias)
    ]


def migrate_checked() -> None:
    """Migrate as the command does, and first refuse a database that is too old.

    Raises:
        SystemCheckError: The database is older than this version can migrate.
    """
    call_command("check", tags=[Tags.database], databases=["default"], verbosity=0)
    call_command("migrate", verbosity=0, skip_checks=True)


def _stopped_halfway(alias: str) -> bool:
    loader = MigrationLoader(connections[alias])
    for step, migration in loader.disk_migrations.items():
        replaced = set(migration.replaces)
        applied = replaced & set(loader.applied_migrations)
        if step not in loader.applied_migrations and applied and applied != replaced:
            return True
    return False
