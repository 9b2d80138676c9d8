"""Where clients stand is worked out anew: reasons have other figures, and there are more of them.

The way back does the same, for the version before knows fewer reasons.
"""

from django.db import migrations


def work_out_anew(apps, schema_editor):
    apps.get_model("decisions", "ClientStatus").objects.update(stale=True)


class Migration(migrations.Migration):
    dependencies = [("decisions", "0003_stops_on_the_board")]

    operations = [migrations.RunPython(work_out_anew, work_out_anew)]
