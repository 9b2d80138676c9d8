"""Decisions, thresholds and client status have an app of their own; the tables are kept."""

import django.db.models.deletion
import simple_history.models
from django.conf import settings
from django.db import migrations, models

#: What the tables and their parts were called, and what they are called.
RENAMED = (
    ("TABLE", "review_historicalrulesettings", "decisions_historicalrulesettings"),
    ("TABLE", "review_rulesettings", "decisions_rulesettings"),
    ("TABLE", "review_standing", "decisions_clientstatus"),
    ("TABLE", "review_decision", "decisions_decision"),
    ("TABLE decisions_decision RENAME COLUMN", "because", "reason"),
    ("TABLE decisions_decision RENAME COLUMN", "why", "refusal_reason"),
    ("INDEX", "review_deci_client__064eba_idx", "decisions_d_client__4e9e04_idx"),
    ("INDEX", "review_stan_need_e9dd60_idx", "decisions_c_need_e3e5a4_idx"),
)


def renamed(what, old, new):
    """The statement for a table, an index, or a column of a table."""
    if what.endswith("COLUMN"):
        return f"ALTER {what} {old} TO {new}"
    return f"ALTER {what} {old} RENAME TO {new}"


#: The function that a dozen triggers call keeps its name, and marks the table under its new one.
MARKS_STALE = """
CREATE OR REPLACE FUNCTION review_mark_stale() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  UPDATE {} SET stale = true WHERE client_id IN (SELECT client_id FROM changed);
  RETURN NULL;
END $$;
"""


class Migration(migrations.Migration):
    dependencies = [
        ("review", "0006_decisions_remember"),
        ("clients", "0007_say_so"),
        ("programmes", "0003_withdrawn"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.SeparateDatabaseAndState(
            database_operations=[
                migrations.RunSQL(renamed(what, old, new), renamed(what, new, old))
                for what, old, new in RENAMED
            ]
            + [
                migrations.RunSQL(
                    MARKS_STALE.format("decisions_clientstatus"),
                    MARKS_STALE.format("review_standing"),
                ),
                # it is worked out anew: what was kept speaks in older words
                migrations.RunSQL(
                    "UPDATE decisions_clientstatus SET stale = true, proposed = '[]'",
                    migrations.RunSQL.noop,
                ),
            ],
            state_operations=[
                migrations.CreateModel(
                    name="HistoricalRuleSettings",
                    fields=[
                        (
                            "id",
                            models.BigIntegerField(
                                auto_created=True, blank=True, db_index=True, verbose_name="ID"
                            ),
                        ),
                        ("changed", models.JSONField(default=dict)),
                        ("history_id", models.AutoField(primary_key=True, serialize=False)),
                        ("history_date", models.DateTimeField(db_index=True)),
                        ("history_change_reason", models.CharField(max_length=100, null=True)),
                        (
                            "history_type",
                            models.CharField(
                                choices=[("+", "Created"), ("~", "Changed"), ("-", "Deleted")],
                                max_length=1,
                            ),
                        ),
                        (
                            "client",
                            models.ForeignKey(
                                blank=True,
                                db_constraint=False,
                                null=True,
                                on_delete=django.db.models.deletion.DO_NOTHING,
                                related_name="+",
                                to="clients.client",
                            ),
                        ),
                        (
                            "history_user",
                            models.ForeignKey(
                                null=True,
                                on_delete=django.db.models.deletion.SET_NULL,
                                related_name="+",
                                to=settings.AUTH_USER_MODEL,
                            ),
                        ),
                    ],
                    options={
                        "verbose_name": "historical rule settings",
                        "verbose_name_plural": "historical rule settingss",
                        "ordering": ("-history_date", "-history_id"),
                        "get_latest_by": ("history_date", "history_id"),
                    },
                    bases=(simple_history.models.HistoricalChanges, models.Model),
                ),
                migrations.CreateModel(
                    name="RuleSettings",
                    fields=[
                        (
                            "id",
                            models.BigAutoField(
                                auto_created=True,
                                primary_key=True,
                                serialize=False,
                                verbose_name="ID",
                            ),
                        ),
                        ("changed", models.JSONField(default=dict)),
                        (
                            "client",
                            models.OneToOneField(
                                on_delete=django.db.models.deletion.CASCADE,
                                related_name="rule_settings",
                                to="clients.client",
                            ),
                        ),
                    ],
                ),
                migrations.CreateModel(
                    name="ClientStatus",
                    fields=[
                        (
                            "id",
                            models.BigAutoField(
                                auto_created=True,
                                primary_key=True,
                                serialize=False,
                                verbose_name="ID",
                            ),
                        ),
                        ("stale", models.BooleanField(default=True)),
                        ("day", models.DateField(null=True)),
                        ("need", models.PositiveSmallIntegerField(default=4)),
                        ("school", models.CharField(blank=True, max_length=8)),
                        ("proposed", models.JSONField(default=list)),
                        ("fortnight", models.JSONField(default=dict)),
                        ("fault", models.CharField(blank=True, max_length=8)),
                        (
                            "client",
                            models.OneToOneField(
                                on_delete=django.db.models.deletion.CASCADE,
                                related_name="status",
                                to="clients.client",
                            ),
                        ),
                    ],
                    options={
                        "indexes": [
                            models.Index(fields=["need"], name="decisions_c_need_e3e5a4_idx")
                        ],
                    },
                ),
                migrations.CreateModel(
                    name="Decision",
                    fields=[
                        (
                            "id",
                            models.BigAutoField(
                                auto_created=True,
                                primary_key=True,
                                serialize=False,
                                verbose_name="ID",
                            ),
                        ),
                        ("step", models.CharField(max_length=20)),
                        ("reason", models.CharField(max_length=24)),
                        ("facts", models.JSONField(default=dict)),
                        ("rests_on", models.JSONField(default=list)),
                        ("accepted", models.BooleanField()),
                        (
                            "refusal_reason",
                            models.CharField(
                                blank=True,
                                choices=[
                                    ("too_soon", "too soon"),
                                    ("other_plan", "another plan"),
                                    ("misleading", "the figures mislead"),
                                    ("clients_wish", "the client’s wish"),
                                ],
                                max_length=16,
                            ),
                        ),
                        ("decided_at", models.DateTimeField()),
                        ("undone_at", models.DateTimeField(null=True)),
                        (
                            "client",
                            models.ForeignKey(
                                on_delete=django.db.models.deletion.PROTECT,
                                related_name="decisions",
                                to="clients.client",
                            ),
                        ),
                        (
                            "decided_by",
                            models.ForeignKey(
                                on_delete=django.db.models.deletion.PROTECT,
                                related_name="+",
                                to=settings.AUTH_USER_MODEL,
                            ),
                        ),
                        (
                            "made",
                            models.ForeignKey(
                                null=True,
                                on_delete=django.db.models.deletion.PROTECT,
                                related_name="+",
                                to="programmes.programme",
                            ),
                        ),
                        (
                            "task",
                            models.ForeignKey(
                                null=True,
                                on_delete=django.db.models.deletion.PROTECT,
                                related_name="decisions",
                                to="programmes.prescribedtask",
                            ),
                        ),
                        (
                            "undone_by",
                            models.ForeignKey(
                                null=True,
                                on_delete=django.db.models.deletion.PROTECT,
                                related_name="+",
                                to=settings.AUTH_USER_MODEL,
                            ),
                        ),
                    ],
                    options={
                        "ordering": ["-decided_at", "-pk"],
                        "indexes": [
                            models.Index(
                                fields=["client", "-decided_at"],
                                name="decisions_d_client__4e9e04_idx",
                            )
                        ],
                    },
                ),
            ],
        ),
    ]
