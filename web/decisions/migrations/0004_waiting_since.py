"""The day since which the board waits for a client. Statuses are computed again to fill it."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("decisions", "0003_plain_names"),
    ]

    operations = [
        migrations.AddField(
            model_name="clientstatus",
            name="waiting_since",
            field=models.DateField(null=True),
        ),
        migrations.RunSQL(
            "UPDATE decisions_clientstatus SET stale = true", migrations.RunSQL.noop, elidable=True
        ),
    ]
