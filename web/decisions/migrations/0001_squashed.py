"""Where each client stands: the tables as they stood when the steps before were put together."""

import django.db.models.deletion
from django.db import migrations, models


#: Whatever a client's status rests on (web/decisions/staleness.py). Each has a client_id.
TABLES = (
    "practice_trial",
    "practice_session",
    "practice_selfreport",
    "clients_stop",
    "clients_screen",
    "clients_target",
    "programmes_programme",
    "decisions_decision",
    "decisions_rulesettings",
)
EVENTS = {"INSERT": "NEW", "UPDATE": "NEW", "DELETE": "OLD"}

# without "AND NOT stale": a row that is being worked out is locked, and has to be waited for
MARK = """
CREATE FUNCTION review_mark_stale() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  UPDATE decisions_clientstatus SET stale = true
    WHERE client_id IN (SELECT client_id FROM changed);
  RETURN NULL;
END $$;
"""


def triggers():
    for table in TABLES:
        for event, rows in EVENTS.items():
            yield (
                f"CREATE TRIGGER review_stale_{event.lower()} AFTER {event} ON {table} "
                f"REFERENCING {rows} TABLE AS changed "
                f"FOR EACH STATEMENT EXECUTE FUNCTION review_mark_stale();"
            )


class Migration(migrations.Migration):

    initial = True
    replaces = [
        ("decisions", "0001_from_review"),
        ("decisions", "0002_worked_out_at"),
        ("decisions", "0003_stops_on_the_board"),
        ("decisions", "0004_worked_out_anew"),
        ("review", "0001_decisions"),
        ("review", "0002_standing_notes_messages"),
        ("review", "0003_stale_and_signed"),
        ("review", "0004_fault"),
        ("review", "0005_undone"),
        ("review", "0006_decisions_remember"),
        ("review", "0007_moved_out"),
    ]

    dependencies = [
        ('screening', '0001_squashed'),
        ('baseline', '0001_squashed'),
        ('record', '0001_squashed'),
        ('clients', '0001_squashed'),
    ]

    operations = [
        migrations.CreateModel(
            name='ClientStatus',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('stale', models.BooleanField(default=True)),
                ('worked_out_at', models.DateTimeField(null=True)),
                ('day', models.DateField(null=True)),
                ('need', models.PositiveSmallIntegerField(default=4)),
                ('school', models.CharField(blank=True, max_length=8)),
                ('proposed', models.JSONField(default=list)),
                ('stops', models.JSONField(default=list)),
                ('fortnight', models.JSONField(default=dict)),
                ('fault', models.CharField(blank=True, max_length=8)),
                ('client', models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name='status', to='clients.client')),
            ],
            options={
                'indexes': [models.Index(fields=['need'], name='decisions_c_need_e3e5a4_idx')],
            },
        ),
        migrations.RunSQL(MARK + "\n".join(triggers()), migrations.RunSQL.noop),
    ]
