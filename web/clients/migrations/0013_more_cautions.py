"""More is asked at screening, and a child is a client of its own kind.

A screening of before this version asked the thirteen questions of its time: the check says which
are new. The band "under 18" is split where a date of birth tells the age.
"""

from datetime import date

from django.db import migrations, models

ASKED_BEFORE = [
    "vocal_fold_surgery", "pressure_acute", "pressure", "lung_disease", "aspiration", "fainting",
    "lying", "neck_jaw", "tremor", "latex", "reflux", "inhaler", "hearing",
]  # fmt: skip
BANDS = [
    ("under-13", "under 13"),
    ("13-17", "13 to 17"),
    ("under-18", "under 18"),
    ("18-39", "18 to 39"),
    ("40-59", "40 to 59"),
    ("60-74", "60 to 74"),
    ("75+", "75 or more"),
]


def say_what_was_asked(apps, schema_editor):
    for name in ("Screen", "HistoricalScreen"):
        apps.get_model("clients", name).objects.update(asked=ASKED_BEFORE)


def split_the_band(apps, schema_editor):
    today = date.today()
    teenager_from = date(today.year - 13, today.month, min(today.day, 28))
    young = apps.get_model("clients", "Client").objects.filter(age_band="under-18")
    young.filter(born_on__gt=teenager_from).update(age_band="under-13")
    young.filter(born_on__lte=teenager_from).update(age_band="13-17")


class Migration(migrations.Migration):
    dependencies = [("clients", "0012_stops_dealt_with")]

    operations = [
        *(
            operation
            for model in ("client", "historicalclient")
            for operation in (
                migrations.AddField(
                    model,
                    "grown_up",
                    models.CharField(
                        "adult who practises with the child",
                        max_length=120,
                        blank=True,
                        default="",
                        help_text="Only for a child: name and relation, for example “Mara Lind, mother”.",
                    ),
                    preserve_default=False,
                ),
                migrations.AlterField(
                    model, "age_band", models.CharField(max_length=8, choices=BANDS, blank=True)
                ),
            )
        ),
        *(
            migrations.AlterField(
                model, "age_band", models.CharField(max_length=8, choices=BANDS, blank=True)
            )
            for model in ("referencefigure", "historicalreferencefigure")
        ),
        *(
            migrations.AddField(
                model, "asked", models.JSONField("cautions that were asked about", default=list)
            )
            for model in ("screen", "historicalscreen")
        ),
        migrations.RunPython(say_what_was_asked, migrations.RunPython.noop),
        migrations.RunPython(split_the_band, migrations.RunPython.noop),
    ]
