"""Plain names for models and fields.

Tables and columns keep their names for one release, so that the previous version can run beside
this one; nothing in the database changes.
"""

from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("clients", "0002_plain_names"),
        ("screening", "0001_squashed"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.RemoveIndex(
                    model_name="stop",
                    name="stops_to_deliver",
                ),
                migrations.AlterField(
                    model_name="historicalstop",
                    name="taken_back_at",
                    field=models.DateTimeField(db_column="taken_back_at", null=True),
                ),
                migrations.RenameField(
                    model_name="historicalstop",
                    old_name="taken_back_at",
                    new_name="cancelled_at",
                ),
                migrations.AlterField(
                    model_name="historicalstop",
                    name="trouble",
                    field=models.CharField(blank=True, db_column="trouble", max_length=16),
                ),
                migrations.RenameField(
                    model_name="historicalstop",
                    old_name="trouble",
                    new_name="delivery_problem",
                ),
                migrations.AlterField(
                    model_name="historicalstop",
                    name="passed_on_at",
                    field=models.DateTimeField(db_column="passed_on_at", null=True),
                ),
                migrations.RenameField(
                    model_name="historicalstop",
                    old_name="passed_on_at",
                    new_name="escalated_at",
                ),
                migrations.AlterField(
                    model_name="historicalstop",
                    name="tells",
                    field=models.BooleanField(db_column="tells", default=False),
                ),
                migrations.RenameField(
                    model_name="historicalstop",
                    old_name="tells",
                    new_name="needs_alert",
                ),
                migrations.AlterField(
                    model_name="stop",
                    name="taken_back_at",
                    field=models.DateTimeField(db_column="taken_back_at", null=True),
                ),
                migrations.RenameField(
                    model_name="stop",
                    old_name="taken_back_at",
                    new_name="cancelled_at",
                ),
                migrations.AlterField(
                    model_name="stop",
                    name="trouble",
                    field=models.CharField(blank=True, db_column="trouble", max_length=16),
                ),
                migrations.RenameField(
                    model_name="stop",
                    old_name="trouble",
                    new_name="delivery_problem",
                ),
                migrations.AlterField(
                    model_name="stop",
                    name="passed_on_at",
                    field=models.DateTimeField(db_column="passed_on_at", null=True),
                ),
                migrations.RenameField(
                    model_name="stop",
                    old_name="passed_on_at",
                    new_name="escalated_at",
                ),
                migrations.AlterField(
                    model_name="stop",
                    name="tells",
                    field=models.BooleanField(db_column="tells", default=False),
                ),
                migrations.RenameField(
                    model_name="stop",
                    old_name="tells",
                    new_name="needs_alert",
                ),
                migrations.AlterField(
                    model_name="historicalstop",
                    name="told",
                    field=models.JSONField(db_column="told", default=list),
                ),
                migrations.RenameField(
                    model_name="historicalstop", old_name="told", new_name="recipients"
                ),
                migrations.AlterField(
                    model_name="stop",
                    name="told",
                    field=models.JSONField(db_column="told", default=list),
                ),
                migrations.RenameField(model_name="stop", old_name="told", new_name="recipients"),
                migrations.AddIndex(
                    model_name="stop",
                    index=models.Index(
                        condition=models.Q(("delivered_at", None), ("needs_alert", True)),
                        fields=["received_at"],
                        name="stops_to_deliver",
                    ),
                ),
            ]
        ),
    ]
