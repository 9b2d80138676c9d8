"""Plain names for models and fields.

Tables and columns keep their names for one release, so that the previous version can run beside
this one; nothing in the database changes.
"""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [
        ("clients", "0002_plain_names"),
        ("intake", "0001_squashed"),
    ]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.RenameModel(
                    old_name="NotTaken",
                    new_name="RefusedEntry",
                ),
            ]
        ),
    ]
