"""Times are read from the database as they were stored, and invalid ones raise an error."""

from datetime import UTC, datetime, timedelta, timezone

import pytest
from django.db import DataError, connection

pytestmark = pytest.mark.django_db


def read(written):
    with connection.cursor() as cursor:
        cursor.execute("SELECT %s::timestamptz", [written])
        return cursor.fetchone()[0]


@pytest.mark.parametrize(
    "moment",
    [
        datetime(2026, 11, 9, 18, 40, 7, 123456, UTC),
        datetime(2026, 6, 1, 0, 0, tzinfo=timezone(timedelta(hours=5, minutes=45))),
        datetime(1, 1, 1, tzinfo=UTC),
        datetime(9999, 12, 31, 23, 59, 59, 999999, UTC),
    ],
)
def test_a_moment_comes_back_in_utc(moment):
    found = read(moment)
    assert found == moment
    assert found.utcoffset() == timedelta(0)


@pytest.mark.parametrize("none", ["infinity", "0044-03-15 BC"])
def test_an_impossible_date_is_refused(none):
    with pytest.raises(DataError, match="timestamp too"):
        read(none)
