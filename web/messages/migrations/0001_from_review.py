"""Messages have an app of their own; the table is kept."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

#: What the tables and their parts were called, and what they are called.
RENAMED = (("TABLE", "review_message", "client_messages_message"),)


def renamed(what, old, new):
    """The statement for a table, an index, or a column of a table."""
    if what.endswith("COLUMN"):
        return f"ALTER {what} {old} TO {new}"
    return f"ALTER {what} {old} RENAME TO {new}"


class Migration(migrations.Migration):
    dependencies = [
        ("review", "0006_decisions_remember"),
        ("clients", "0007_say_so"),
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
                    name="Message",
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
                                    ("missed", "a session was missed"),
                                    ("check_in", "how is it going?"),
                                    ("changed", "the programme has changed"),
                                ],
                                max_length=10,
                            ),
                        ),
                        ("to", models.CharField(max_length=160)),
                        ("words", models.TextField()),
                        ("day", models.DateField()),
                        ("written_at", models.DateTimeField(auto_now_add=True)),
                        ("sent_at", models.DateTimeField(null=True)),
                        (
                            "client",
                            models.ForeignKey(
                                on_delete=django.db.models.deletion.PROTECT,
                                related_name="messages",
                                to="clients.client",
                            ),
                        ),
                        (
                            "written_by",
                            models.ForeignKey(
                                null=True,
                                on_delete=django.db.models.deletion.PROTECT,
                                related_name="+",
                                to=settings.AUTH_USER_MODEL,
                            ),
                        ),
                    ],
                    options={
                        "ordering": ["-written_at", "-pk"],
                        "constraints": [
                            models.UniqueConstraint(
                                condition=models.Q(("kind", "missed")),
                                fields=("client", "day"),
                                name="one_reminder_a_day",
                            )
                        ],
                    },
                ),
            ],
        ),
    ]
