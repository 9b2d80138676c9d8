"""What a device sent and was refused: the tables as they stood when the steps before were put together."""

import django.db.models.deletion
import web.ui.times
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True
    replaces = [
        ("practice", "0001_initial"),
        ("practice", "0002_sessions_and_marks"),
        ("practice", "0003_bounded_times"),
        ("practice", "0004_self_reports"),
        ("practice", "0005_sessions_on_a_trigger"),
        ("practice", "0006_helped_by"),
        ("practice", "0007_shared_tablets"),
        ("practice", "0008_device_keys"),
    ]

    dependencies = [
        ('clients', '0001_squashed'),
    ]

    operations = [
        migrations.CreateModel(
            name='NotTaken',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('key', models.CharField(max_length=40)),
                ('kind', models.CharField(max_length=12)),
                ('reason', models.CharField(max_length=120)),
                ('device', models.CharField(blank=True, max_length=200)),
                ('at', models.DateTimeField(default=web.ui.times.moment)),
                ('client', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='not_taken', to='clients.client')),
            ],
            options={
                'db_table': 'practice_nottaken',
                'ordering': ['-at', '-pk'],
                'constraints': [models.UniqueConstraint(fields=('client', 'key'), name='one_row_an_entry')],
            },
        ),
    ]
