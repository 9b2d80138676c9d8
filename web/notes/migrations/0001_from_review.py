"""Notes have an app of their own; the tables are kept."""

import django.db.models.deletion
import simple_history.models
from django.conf import settings
from django.db import migrations, models

#: What the tables and their parts were called, and what they are called.
RENAMED = (
    ("TABLE", "review_historicalnote", "notes_historicalnote"),
    ("TABLE", "review_note", "notes_note"),
    ("TABLE", "review_addendum", "notes_addendum"),
)


def renamed(what, old, new):
    """The statement for a table, an index, or a column of a table."""
    if what.endswith("COLUMN"):
        return f"ALTER {what} {old} TO {new}"
    return f"ALTER {what} {old} RENAME TO {new}"


class Migration(migrations.Migration):
    dependencies = [
        ("review", "0006_decisions_remember"),
        ("clients", "0007_say_so"),
        ("practice", "0003_bounded_times"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.SeparateDatabaseAndState(
            database_operations=[
                migrations.RunSQL(renamed(what, old, new), renamed(what, new, old))
                for what, old, new in RENAMED
            ],
            state_operations=[
                migrations.CreateModel(
                    name="HistoricalNote",
                    fields=[
                        (
                            "id",
                            models.BigIntegerField(
                                auto_created=True, blank=True, db_index=True, verbose_name="ID"
                            ),
                        ),
                        (
                            "kind",
                            models.CharField(
                                choices=[
                                    ("session", "session note"),
                                    ("progress", "progress report"),
                                    ("discharge", "discharge report"),
                                    ("specialist", "summary for a specialist’s visit"),
                                ],
                                max_length=12,
                            ),
                        ),
                        ("first", models.DateField()),
                        ("last", models.DateField()),
                        ("words", models.JSONField(default=dict)),
                        ("edition", models.PositiveIntegerField(default=1)),
                        ("made_at", models.DateTimeField(blank=True, editable=False)),
                        ("signed_at", models.DateTimeField(null=True)),
                        ("figures", models.JSONField(default=dict)),
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
                        (
                            "made_by",
                            models.ForeignKey(
                                blank=True,
                                db_constraint=False,
                                null=True,
                                on_delete=django.db.models.deletion.DO_NOTHING,
                                related_name="+",
                                to=settings.AUTH_USER_MODEL,
                            ),
                        ),
                        (
                            "session",
                            models.ForeignKey(
                                blank=True,
                                db_constraint=False,
                                null=True,
                                on_delete=django.db.models.deletion.DO_NOTHING,
                                related_name="+",
                                to="practice.session",
                            ),
                        ),
                        (
                            "signed_by",
                            models.ForeignKey(
                                blank=True,
                                db_constraint=False,
                                null=True,
                                on_delete=django.db.models.deletion.DO_NOTHING,
                                related_name="+",
                                to=settings.AUTH_USER_MODEL,
                            ),
                        ),
                    ],
                    options={
                        "verbose_name": "historical note",
                        "verbose_name_plural": "historical notes",
                        "ordering": ("-history_date", "-history_id"),
                        "get_latest_by": ("history_date", "history_id"),
                    },
                    bases=(simple_history.models.HistoricalChanges, models.Model),
                ),
                migrations.CreateModel(
                    name="Note",
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
                        (
                            "kind",
                            models.CharField(
                                choices=[
                                    ("session", "session note"),
                                    ("progress", "progress report"),
                                    ("discharge", "discharge report"),
                                    ("specialist", "summary for a specialist’s visit"),
                                ],
                                max_length=12,
                            ),
                        ),
                        ("first", models.DateField()),
                        ("last", models.DateField()),
                        ("words", models.JSONField(default=dict)),
                        ("edition", models.PositiveIntegerField(default=1)),
                        ("made_at", models.DateTimeField(auto_now_add=True)),
                        ("signed_at", models.DateTimeField(null=True)),
                        ("figures", models.JSONField(default=dict)),
                        (
                            "client",
                            models.ForeignKey(
                                on_delete=django.db.models.deletion.PROTECT,
                                related_name="notes",
                                to="clients.client",
                            ),
                        ),
                        (
                            "made_by",
                            models.ForeignKey(
                                on_delete=django.db.models.deletion.PROTECT,
                                related_name="+",
                                to=settings.AUTH_USER_MODEL,
                            ),
                        ),
                        (
                            "session",
                            models.ForeignKey(
                                null=True,
                                on_delete=django.db.models.deletion.PROTECT,
                                related_name="+",
                                to="practice.session",
                            ),
                        ),
                        (
                            "signed_by",
                            models.ForeignKey(
                                null=True,
                                on_delete=django.db.models.deletion.PROTECT,
                                related_name="+",
                                to=settings.AUTH_USER_MODEL,
                            ),
                        ),
                    ],
                    options={
                        "ordering": ["-last", "-pk"],
                    },
                ),
                migrations.CreateModel(
                    name="Addendum",
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
                        ("words", models.TextField()),
                        ("added_at", models.DateTimeField(auto_now_add=True)),
                        (
                            "added_by",
                            models.ForeignKey(
                                on_delete=django.db.models.deletion.PROTECT,
                                related_name="+",
                                to=settings.AUTH_USER_MODEL,
                            ),
                        ),
                        (
                            "note",
                            models.ForeignKey(
                                on_delete=django.db.models.deletion.PROTECT,
                                related_name="addenda",
                                to="notes.note",
                            ),
                        ),
                    ],
                    options={
                        "ordering": ["added_at", "pk"],
                    },
                ),
            ],
        ),
    ]
