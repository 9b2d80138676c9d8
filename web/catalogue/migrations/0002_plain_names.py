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
        ("catalogue", "0001_squashed"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.RemoveConstraint(
                    model_name="libraryentry",
                    name="one_library_version",
                ),
                migrations.AlterField(
                    model_name="libraryentry",
                    name="put_away_at",
                    field=models.DateTimeField(db_column="put_away_at", null=True),
                ),
                migrations.RenameField(
                    model_name="libraryentry",
                    old_name="put_away_at",
                    new_name="archived_at",
                ),
                migrations.AlterField(
                    model_name="libraryentry",
                    name="by",
                    field=models.ForeignKey(
                        db_column="by_id",
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="kept_in_library",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                migrations.RenameField(
                    model_name="libraryentry",
                    old_name="by",
                    new_name="author",
                ),
                migrations.AlterField(
                    model_name="libraryentry",
                    name="at",
                    field=models.DateTimeField(auto_now_add=True, db_column="at"),
                ),
                migrations.RenameField(
                    model_name="libraryentry",
                    old_name="at",
                    new_name="created_at",
                ),
                migrations.AlterField(
                    model_name="picture",
                    name="by",
                    field=models.ForeignKey(
                        db_column="by_id",
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="pictures",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                migrations.RenameField(
                    model_name="picture",
                    old_name="by",
                    new_name="author",
                ),
                migrations.AlterField(
                    model_name="picture",
                    name="at",
                    field=models.DateTimeField(auto_now_add=True, db_column="at"),
                ),
                migrations.RenameField(
                    model_name="picture",
                    old_name="at",
                    new_name="created_at",
                ),
                migrations.AddConstraint(
                    model_name="libraryentry",
                    constraint=models.UniqueConstraint(
                        fields=("clinic", "kind", "name", "author", "version"),
                        name="one_library_version",
                    ),
                ),
            ]
        ),
    ]
