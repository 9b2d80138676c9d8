"""Plain names for models and fields.

Tables and columns keep their names for one release, so that the previous version can run beside
this one; nothing in the database changes.
"""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("client_messages", "0001_squashed"),
    ]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.AlterField(
                    model_name="message",
                    name="to",
                    field=models.CharField(db_column="to", max_length=160),
                ),
                migrations.RenameField(
                    model_name="message",
                    old_name="to",
                    new_name="recipient",
                ),
                migrations.AlterField(
                    model_name="message",
                    name="words",
                    field=models.TextField(db_column="words"),
                ),
                migrations.RenameField(
                    model_name="message",
                    old_name="words",
                    new_name="text",
                ),
            ]
        ),
    ]
