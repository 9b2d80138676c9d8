"""What the clock has done has an app of its own; the table is kept."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

#: What the tables and their parts were called, and what they are called.
RENAMED = (("TABLE", "review_digest", "scheduled_digest"),)


def renamed(what, old, new):
    """The statement for a table, an index, or a column of a table."""
    if what.endswith("COLUMN"):
        return f"ALTER {what} {old} TO {new}"
    return f"ALTER {what} {old} RENAME TO {new}"


class Migration(migrations.Migration):
    dependencies = [
        ("review", "0006_decisions_remember"),
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
                    name="Digest",
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
                        ("week", models.DateField()),
                        ("sent_at", models.DateTimeField(auto_now_add=True)),
                        (
                            "user",
                            models.ForeignKey(
                                on_delete=django.db.models.deletion.CASCADE,
                                related_name="+",
                                to=settings.AUTH_USER_MODEL,
                            ),
                        ),
                    ],
                    options={
                        "constraints": [
                            models.UniqueConstraint(
                                fields=("user", "week"), name="one_digest_a_week"
                            )
                        ],
                    },
                ),
            ],
        ),
    ]
