"""Mark a client's status as stale when a row it depends on changes.

The database marks a status stale when a row of these models is written, through triggers that the
migrations make (`decisions/0001_from_review.py`). A model that is added here needs a migration with
its three triggers; a test compares this list with the database, and with what working a status out
reads.
"""

from django.db import connection

from web.baseline.models import Target
from web.record.models import Decision, ProgrammeVersion, RuleSettings, SelfReport, Session, Trial
from web.screening.models import Screen, Stop

WATCHED = (
    Trial,
    Session,
    SelfReport,
    Stop,
    Screen,
    Target,
    ProgrammeVersion,
    Decision,
    RuleSettings,
)
#: The trigger function, and the events on each table that call it.
FUNCTION, EVENTS = "review_mark_stale", ("INSERT", "UPDATE", "DELETE")


def missing_triggers() -> list[str]:
    """Return the triggers missing in the database, as "event on table"; they may be lost after
    another kind of restore, and the board would then show old states."""
    with connection.cursor() as cursor:
        cursor.execute(
            "select event_object_table, event_manipulation from information_schema.triggers "
            "where action_statement like %s",
            [f"%{FUNCTION}%"],
        )
        found = set(cursor.fetchall())
    required = {(model._meta.db_table, event) for model in WATCHED for event in EVENTS}
    return sorted(f"{event} on {table}" for table, event in required - found)
