"""Calibrations: the tables as they stood when the steps before were put together."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True
    replaces = [
        ("sound", "0001_initial"),
        ("sound", "0002_weighted"),
    ]

    dependencies = [
        ('accounts', '0001_squashed'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='Calibration',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('device', models.CharField(max_length=200)),
                ('browser', models.CharField(max_length=200)),
                ('distance_m', models.FloatField()),
                ('weighting', models.CharField(choices=[('A', 'A'), ('C', 'C'), ('Z', 'Z')], default='C', max_length=1)),
                ('meter_db_spl', models.FloatField()),
                ('recorded_dbfs', models.FloatField()),
                ('weighted_by_db', models.FloatField(null=True)),
                ('made_on', models.DateField()),
                ('simulated', models.BooleanField(default=False)),
                ('clinic', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='calibrations', to='accounts.clinic')),
                ('made_by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['-made_on', '-pk'],
                'indexes': [models.Index(fields=['clinic', 'device', '-made_on'], name='sound_calib_clinic__69d625_idx')],
            },
        ),
    ]
