"""A stop is dealt with once a clinician has cleared it. One that the client took back at once was
cleared by nobody; where a clinician has read it since, that clinician stands for it."""

from django.db import migrations
from django.db.models import F


def cleared_by_the_reader(apps, schema_editor):
    apps.get_model("clients", "Stop").objects.filter(
        cleared_at__isnull=False, cleared_by=None, read_by__isnull=False
    ).update(cleared_by=F("read_by"))


class Migration(migrations.Migration):
    dependencies = [("clients", "0011_planned_erasures")]

    operations = [migrations.RunPython(cleared_by_the_reader, migrations.RunPython.noop)]
