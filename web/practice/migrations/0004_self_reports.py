"""What a client says of a session is called a self-report; the rows stay."""

import django.db.models.deletion  # noqa: F401
from django.db import migrations, models

OF = {
    "client": "clients.client",
    "session": "practice.session",
    "task": "programmes.prescribedtask",
}


def _of(to, *, null):
    return models.ForeignKey(
        to, on_delete=models.deletion.PROTECT, related_name="self_reports", null=null
    )


class Migration(migrations.Migration):
    dependencies = [
        ("practice", "0003_bounded_times"),
        # its triggers are made on the table under its former name
        ("review", "0006_decisions_remember"),
    ]
    operations = [
        migrations.RenameModel("Mark", "SelfReport"),
        migrations.RenameIndex(
            "selfreport",
            new_name="practice_se_client__f9b004_idx",
            old_name="practice_ma_client__820bf2_idx",
        ),
        *(
            migrations.AlterField("selfreport", name, _of(to, null=to.endswith("prescribedtask")))
            for name, to in OF.items()
        ),
    ]
