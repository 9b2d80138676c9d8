"""A report of who answered the questions of a session."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("record", "0006_conversation"),
    ]

    operations = [
        migrations.AlterField(
            model_name="selfreport",
            name="kind",
            field=models.CharField(
                choices=[
                    ("effort", "bodily effort, 1 to 10"),
                    ("concentration", "concentration, 1 to 10"),
                    ("strain", "scratchy, tight or sore"),
                    ("felt", "felt check"),
                    ("skipped", "skipped"),
                    ("breath", "after a counted breath"),
                    ("depth", "depth in water, cm"),
                    ("comment", "comment"),
                    ("bother", "bother from the voice, 0 to 10"),
                    ("demands", "vocal demand today"),
                    ("distance", "the distance to the microphone"),
                    ("set_aside", "whether a trial counts"),
                    ("answer", "answer to the clinic"),
                    ("microphone", "microphone check"),
                    ("answered_by", "who answered the questions"),
                ],
                max_length=16,
            ),
        ),
    ]
