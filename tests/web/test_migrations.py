"""A database of the previous version is upgraded with its rows; an older one is rejected
unchanged."""

import pytest
from django.core.management import CommandError, call_command
from django.db import connection
from django.db.migrations.loader import MigrationLoader
from django.db.migrations.recorder import MigrationRecorder

from tests.factories import trial
from web.keeping.checks import STOP_OVER, migrate_checked
from web.record.models import Trial
from web.screening.models import Screen

pytestmark = pytest.mark.django_db


def squashed():
    """Return the names of the squashed migrations, and those that each replaces."""
    on_disk = MigrationLoader(connection).disk_migrations
    return {step: set(each.replaces) for step, each in on_disk.items() if each.replaces}


@pytest.fixture
def of_the_version_before():
    """A database with the migrations of the previous version, and none of the squashed ones."""
    steps = MigrationRecorder.Migration.objects
    for app, name in squashed():
        steps.filter(app=app, name=name).delete()
    return steps


def test_a_database_of_the_version_before_keeps_its_rows(of_the_version_before, person, task):
    kept = trial(task).pk
    screens = Screen.objects.filter(client=person).count()
    call_command("migrate", verbosity=0)
    assert Trial.objects.get(pk=kept).client == person
    assert Screen.objects.filter(client=person).count() == screens >= 1
    recorded = set(of_the_version_before.values_list("app", "name"))
    assert set(squashed()) <= recorded


@pytest.mark.parametrize("step", [("clients", "0013_more_cautions"), ("review", "0007_moved_out")])
def test_an_older_database_names_the_version_to_install_first(of_the_version_before, step):
    app, name = step
    assert of_the_version_before.filter(app=app, name=name).delete()[0]
    before = set(of_the_version_before.values_list("app", "name"))
    for way in (lambda: call_command("migrate", skip_checks=False), migrate_checked):
        with pytest.raises(CommandError, match=f"{STOP_OVER.replace('+', '.')}, run migrate"):
            way()
    assert set(of_the_version_before.values_list("app", "name")) == before
