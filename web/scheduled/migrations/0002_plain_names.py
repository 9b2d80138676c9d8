"""Plain names for models and fields.

Tables and columns keep their names for one release, so that the previous version can run beside
this one; nothing in the database changes.
"""

import django.utils.timezone
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("scheduled", "0001_squashed"),
    ]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.AlterModelTable(name="run", table="scheduled_run"),
                migrations.RenameModel(old_name="Run", new_name="JobRun"),
                migrations.RemoveIndex(model_name="jobrun", name="scheduled_r_what_17b4ef_idx"),
                migrations.AlterField(
                    model_name="jobrun",
                    name="what",
                    field=models.CharField(
                        choices=[("backup", "a backup"), ("mail", "a mail sent to ourselves")],
                        db_column="what",
                        max_length=12,
                    ),
                ),
                migrations.RenameField(model_name="jobrun", old_name="what", new_name="job"),
                migrations.AlterField(
                    model_name="jobrun",
                    name="at",
                    field=models.DateTimeField(db_column="at", default=django.utils.timezone.now),
                ),
                migrations.RenameField(model_name="jobrun", old_name="at", new_name="finished_at"),
                migrations.AlterField(
                    model_name="jobrun",
                    name="words",
                    field=models.CharField(blank=True, db_column="words", max_length=500),
                ),
                migrations.RenameField(model_name="jobrun", old_name="words", new_name="message"),
                migrations.AlterModelOptions(
                    name="jobrun", options={"ordering": ["-finished_at", "-pk"]}
                ),
                migrations.AddIndex(
                    model_name="jobrun",
                    index=models.Index(
                        fields=["job", "finished_at"], name="scheduled_r_what_17b4ef_idx"
                    ),
                ),
            ]
        ),
    ]
