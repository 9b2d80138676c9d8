"""What the database itself sees to: that a standing goes stale, and that what is signed stays."""

from django.db import migrations

#: Whatever a standing rests on. Each has a client_id.
TABLES = (
    "practice_trial",
    "practice_session",
    "practice_mark",
    "clients_stop",
    "clients_screen",
    "clients_target",
    "programmes_programme",
    "review_decision",
    "review_rulesettings",
)
EVENTS = {"INSERT": "NEW", "UPDATE": "NEW", "DELETE": "OLD"}

# without "AND NOT stale": a row that is being worked out is locked, and has to be waited for
MARK = """
CREATE FUNCTION review_mark_stale() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  UPDATE review_standing SET stale = true WHERE client_id IN (SELECT client_id FROM changed);
  RETURN NULL;
END $$;
"""
# a client who is erased whole takes the notes along: whoever erases says so in the transaction
SIGNED = """
CREATE FUNCTION review_note_is_signed() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF OLD.signed_at IS NOT NULL
     AND NOT (TG_OP = 'DELETE' AND coalesce(current_setting('still_reed.erasing', true), '') = 'on') THEN
    RAISE EXCEPTION 'note % is signed and stays as it is', OLD.id USING ERRCODE = 'check_violation';
  END IF;
  RETURN CASE WHEN TG_OP = 'DELETE' THEN OLD ELSE NEW END;
END $$;
CREATE TRIGGER review_note_signed BEFORE UPDATE OR DELETE ON review_note
  FOR EACH ROW EXECUTE FUNCTION review_note_is_signed();
"""


def _triggers():
    for table in TABLES:
        for event, rows in EVENTS.items():
            yield (
                f"CREATE TRIGGER review_stale_{event.lower()} AFTER {event} ON {table} "
                f"REFERENCING {rows} TABLE AS changed "
                f"FOR EACH STATEMENT EXECUTE FUNCTION review_mark_stale();"
            )


def _gone():
    for table in TABLES:
        for event in EVENTS:
            yield f"DROP TRIGGER review_stale_{event.lower()} ON {table};"


class Migration(migrations.Migration):
    dependencies = [
        ("review", "0002_standing_notes_messages"),
        ("practice", "0002_sessions_and_marks"),
        ("programmes", "0002_documents_and_drafts"),
        ("clients", "0005_clinician_diagnosis_reading"),
    ]
    operations = [
        migrations.RunSQL(
            MARK + "\n".join(_triggers()),
            "\n".join(_gone()) + "DROP FUNCTION review_mark_stale();",
        ),
        migrations.RunSQL(
            SIGNED,
            "DROP TRIGGER review_note_signed ON review_note; DROP FUNCTION review_note_is_signed();",
        ),
    ]
