"""Plain names for models and fields.

Tables and columns keep their names for one release, so that the previous version can run beside
this one; nothing in the database changes.
"""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("decisions", "0002_no_programme"),
    ]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.AlterField(
                    model_name="clientstatus",
                    name="worked_out_at",
                    field=models.DateTimeField(db_column="worked_out_at", null=True),
                ),
                migrations.RenameField(
                    model_name="clientstatus",
                    old_name="worked_out_at",
                    new_name="computed_at",
                ),
            ]
        ),
    ]
