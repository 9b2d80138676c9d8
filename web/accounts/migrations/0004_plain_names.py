"""Plain names for models and fields.

Tables and columns keep their names for one release, so that the previous version can run beside
this one; nothing in the database changes.
"""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("accounts", "0003_accounts_have_an_order"),
    ]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.AlterModelTable(name="opened", table="accounts_opened"),
                migrations.AlterModelTable(name="guesses", table="accounts_guesses"),
                migrations.AlterModelTable(name="unsaved", table="accounts_unsaved"),
                migrations.RenameModel(old_name="Unsaved", new_name="UnsavedForm"),
                migrations.RenameModel(old_name="Guesses", new_name="AttemptCount"),
                migrations.RenameModel(old_name="Opened", new_name="AccessLogEntry"),
                migrations.RemoveConstraint(model_name="attemptcount", name="one_count_a_window"),
                migrations.AlterField(
                    model_name="attemptcount",
                    name="what",
                    field=models.CharField(db_column="what", max_length=80),
                ),
                migrations.RenameField(model_name="attemptcount", old_name="what", new_name="key"),
                migrations.AddConstraint(
                    model_name="attemptcount",
                    constraint=models.UniqueConstraint(
                        fields=("key", "window"), name="one_count_a_window"
                    ),
                ),
                migrations.RemoveIndex(model_name="accesslogentry", name="opened_newest"),
                migrations.RemoveIndex(model_name="accesslogentry", name="opened_of_a_record"),
                migrations.AlterField(
                    model_name="accesslogentry",
                    name="at",
                    field=models.DateTimeField(auto_now_add=True, db_column="at"),
                ),
                migrations.RenameField(
                    model_name="accesslogentry", old_name="at", new_name="accessed_at"
                ),
                migrations.AlterField(
                    model_name="accesslogentry",
                    name="by",
                    field=models.ForeignKey(
                        db_column="by_id",
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                migrations.RenameField(model_name="accesslogentry", old_name="by", new_name="user"),
                migrations.AddIndex(
                    model_name="accesslogentry",
                    index=models.Index(fields=["clinic", "-accessed_at"], name="opened_newest"),
                ),
                migrations.AddIndex(
                    model_name="accesslogentry",
                    index=models.Index(
                        fields=["clinic", "record", "-accessed_at"], name="opened_of_a_record"
                    ),
                ),
                migrations.AlterModelOptions(
                    name="cover",
                    options={"ordering": ["first_day", "pk"]},
                ),
                migrations.RemoveConstraint(
                    model_name="cover",
                    name="cover_ends_after_it_begins",
                ),
                migrations.RemoveConstraint(
                    model_name="cover",
                    name="nobody_covers_themselves",
                ),
                migrations.AlterField(
                    model_name="cover",
                    name="of",
                    field=models.ForeignKey(
                        db_column="of_id",
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="covered",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                migrations.RenameField(
                    model_name="cover",
                    old_name="of",
                    new_name="absent",
                ),
                migrations.AlterField(
                    model_name="cover",
                    name="first",
                    field=models.DateField(db_column="first"),
                ),
                migrations.RenameField(
                    model_name="cover",
                    old_name="first",
                    new_name="first_day",
                ),
                migrations.AlterField(
                    model_name="cover",
                    name="last",
                    field=models.DateField(db_column="last"),
                ),
                migrations.RenameField(
                    model_name="cover",
                    old_name="last",
                    new_name="last_day",
                ),
                migrations.AlterField(
                    model_name="cover",
                    name="by",
                    field=models.ForeignKey(
                        db_column="by_id",
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="covers",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                migrations.RenameField(
                    model_name="cover",
                    old_name="by",
                    new_name="substitute",
                ),
                migrations.AddConstraint(
                    model_name="cover",
                    constraint=models.CheckConstraint(
                        condition=models.Q(("last_day__gte", models.F("first_day"))),
                        name="cover_ends_after_it_begins",
                    ),
                ),
                migrations.AddConstraint(
                    model_name="cover",
                    constraint=models.CheckConstraint(
                        condition=models.Q(("absent", models.F("substitute")), _negated=True),
                        name="nobody_covers_themselves",
                    ),
                ),
            ]
        ),
    ]
