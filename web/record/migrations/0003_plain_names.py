"""Plain names for models and fields.

Tables and columns keep their names for one release, so that the previous version can run beside
this one; nothing in the database changes.
"""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("record", "0002_programme_version"),
    ]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.AlterField(
                    model_name="decision",
                    name="made",
                    field=models.ForeignKey(
                        db_column="made_id",
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to="record.programmeversion",
                    ),
                ),
                migrations.RenameField(
                    model_name="decision",
                    old_name="made",
                    new_name="created_version",
                ),
                migrations.AlterField(
                    model_name="decision",
                    name="rests_on",
                    field=models.JSONField(db_column="rests_on", default=list),
                ),
                migrations.RenameField(
                    model_name="decision",
                    old_name="rests_on",
                    new_name="evidence",
                ),
            ]
        ),
    ]
