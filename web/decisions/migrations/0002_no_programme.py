"""“No programme” is a need of its own, before “on course”, which was 4 and is 5."""

from django.db import migrations, models

# A client with nothing proposed may have no programme: the next look at the board finds out.
FORWARDS = "UPDATE decisions_clientstatus SET need = 5, stale = true WHERE need = 4"
BACKWARDS = "UPDATE decisions_clientstatus SET need = 4, stale = true WHERE need > 4"


class Migration(migrations.Migration):
    dependencies = [("decisions", "0001_squashed")]

    operations = [
        migrations.AlterField(
            model_name="clientstatus",
            name="need",
            field=models.PositiveSmallIntegerField(default=5),
        ),
        migrations.RunSQL(FORWARDS, BACKWARDS),
    ]
