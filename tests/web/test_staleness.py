"""A status becomes stale with its sources: the list in the code, the database, and the tables
read."""

import re

from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from tests.factories import trial
from web.decisions.client_status import refresh
from web.decisions.staleness import WATCHED, missing_triggers
from web.scheduled.readiness import findings

#: Tables that are read too, and why a change there leaves the status valid: the status itself;
#: tasks of a version never change; the record's page reports its changes, and a new day
#: recalculates all; the clinic's tasks and settings; the names of helpers.
NOT_WATCHED = {
    "decisions_clientstatus", "programmes_prescribedtask", "clients_client", "accounts_clinic",
    "catalogue_owntask", "catalogue_hiddentask", "clients_helper",
}  # fmt: skip


def test_the_database_has_a_trigger_for_each_of_them(db):
    assert missing_triggers() == []


def test_a_missing_trigger_is_named_and_readiness_warns(db):
    with connection.cursor() as cursor:
        cursor.execute("drop trigger review_stale_insert on practice_trial")
    assert missing_triggers() == ["INSERT on practice_trial"]
    (board,) = [each for each in findings() if each.name == "board"]
    assert board.is_ready
    assert board.has_warning
    assert "INSERT on practice_trial" in board.words


def test_all_that_a_status_is_worked_out_from_is_watched(person, task):
    trial(task)
    with CaptureQueriesContext(
        connection,
    ) as queries:
        refresh([person], now=timezone.now())
    sql = " ".join(each["sql"] for each in queries)
    read = set(re.findall(r'(?:FROM|JOIN) "(\w+)"', sql))
    assert "practice_trial" in read
    assert read - NOT_WATCHED <= {model._meta.db_table for model in WATCHED}
