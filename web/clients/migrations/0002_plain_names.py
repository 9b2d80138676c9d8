"""Plain names for models and fields.

Tables and columns keep their names for one release, so that the previous version can run beside
this one; nothing in the database changes.
"""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("accounts", "0004_plain_names"),
        ("clients", "0001_squashed"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.RemoveConstraint(
                    model_name="erasure",
                    name="one_erasure_waits_for_a_record",
                ),
                migrations.AlterField(
                    model_name="erasure",
                    name="taken_back_at",
                    field=models.DateTimeField(db_column="taken_back_at", null=True),
                ),
                migrations.RenameField(
                    model_name="erasure",
                    old_name="taken_back_at",
                    new_name="cancelled_at",
                ),
                migrations.AlterField(
                    model_name="erasure",
                    name="taken_back_by",
                    field=models.ForeignKey(
                        db_column="taken_back_by_id",
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                migrations.RenameField(
                    model_name="erasure",
                    old_name="taken_back_by",
                    new_name="cancelled_by",
                ),
                migrations.AlterField(
                    model_name="erasure",
                    name="why",
                    field=models.CharField(db_column="why", max_length=500),
                ),
                migrations.RenameField(
                    model_name="erasure",
                    old_name="why",
                    new_name="reason",
                ),
                migrations.AddConstraint(
                    model_name="erasure",
                    constraint=models.UniqueConstraint(
                        condition=models.Q(("cancelled_at", None), ("done_at", None)),
                        fields=("record",),
                        name="one_erasure_waits_for_a_record",
                    ),
                ),
            ]
        ),
    ]
