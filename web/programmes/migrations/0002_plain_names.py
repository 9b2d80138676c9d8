"""Plain names for models and fields.

Tables and columns keep their names for one release, so that the previous version can run beside
this one; nothing in the database changes.
"""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("programmes", "0001_squashed"),
    ]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.AlterField(
                    model_name="draftchange",
                    name="way",
                    field=models.CharField(
                        choices=[
                            ("do", "done"),
                            ("undo", "undone"),
                            ("redo", "redone"),
                            ("handed_over", "prescribed"),
                        ],
                        db_column="way",
                        default="do",
                        max_length=12,
                    ),
                ),
                migrations.RenameField(
                    model_name="draftchange",
                    old_name="way",
                    new_name="action",
                ),
                migrations.AlterField(
                    model_name="draftchange",
                    name="forth",
                    field=models.JSONField(db_column="forth", default=list),
                ),
                migrations.RenameField(
                    model_name="draftchange",
                    old_name="forth",
                    new_name="changes",
                ),
                migrations.AlterField(
                    model_name="draftchange",
                    name="back",
                    field=models.JSONField(db_column="back", default=list),
                ),
                migrations.RenameField(
                    model_name="draftchange",
                    old_name="back",
                    new_name="inverse_changes",
                ),
                migrations.AlterField(
                    model_name="draftchange",
                    name="at",
                    field=models.DateTimeField(auto_now_add=True, db_column="at"),
                ),
                migrations.RenameField(
                    model_name="draftchange",
                    old_name="at",
                    new_name="made_at",
                ),
                migrations.AlterField(
                    model_name="draftchange",
                    name="by",
                    field=models.ForeignKey(
                        db_column="by_id",
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                migrations.RenameField(
                    model_name="draftchange",
                    old_name="by",
                    new_name="made_by",
                ),
                migrations.AlterField(
                    model_name="draftchange",
                    name="of",
                    field=models.ForeignKey(
                        db_column="of_id",
                        null=True,
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="+",
                        to="programmes.draftchange",
                    ),
                ),
                migrations.RenameField(
                    model_name="draftchange",
                    old_name="of",
                    new_name="target",
                ),
            ]
        ),
    ]
