"""Baseline sheets, reference figures, targets: the tables as they stood when the steps before were put together."""

import django.db.models.deletion
import simple_history.models
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True
    replaces = [
        ("clients", "0001_initial"),
        ("clients", "0002_record_screen_baseline_targets"),
        ("clients", "0003_trial_history_and_time_zone"),
        ("clients", "0004_stops_and_links"),
        ("clients", "0005_clinician_diagnosis_reading"),
        ("clients", "0006_bounded_times"),
        ("clients", "0007_say_so"),
        ("clients", "0008_erasure"),
        ("clients", "0009_shared_with"),
        ("clients", "0010_helpers"),
        ("clients", "0011_planned_erasures"),
        ("clients", "0012_stops_dealt_with"),
        ("clients", "0013_more_cautions"),
    ]

    dependencies = [
        ('accounts', '0001_squashed'),
        ('clients', '0001_squashed'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='Baseline',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('begun_at', models.DateTimeField()),
                ('closed_at', models.DateTimeField(null=True)),
                ('distance_m', models.FloatField(default=0.3)),
                ('entries', models.JSONField(default=dict)),
                ('begun_by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('client', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='baselines', to='clients.client')),
            ],
            options={
                'db_table': 'clients_baseline',
                'ordering': ['-begun_at', '-pk'],
            },
        ),
        migrations.CreateModel(
            name='HistoricalBaseline',
            fields=[
                ('id', models.BigIntegerField(auto_created=True, blank=True, db_index=True, verbose_name='ID')),
                ('begun_at', models.DateTimeField()),
                ('closed_at', models.DateTimeField(null=True)),
                ('distance_m', models.FloatField(default=0.3)),
                ('entries', models.JSONField(default=dict)),
                ('history_id', models.AutoField(primary_key=True, serialize=False)),
                ('history_date', models.DateTimeField(db_index=True)),
                ('history_change_reason', models.CharField(max_length=100, null=True)),
                ('history_type', models.CharField(choices=[('+', 'Created'), ('~', 'Changed'), ('-', 'Deleted')], max_length=1)),
                ('begun_by', models.ForeignKey(blank=True, db_constraint=False, null=True, on_delete=django.db.models.deletion.DO_NOTHING, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('client', models.ForeignKey(blank=True, db_constraint=False, null=True, on_delete=django.db.models.deletion.DO_NOTHING, related_name='+', to='clients.client')),
                ('history_user', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'verbose_name': 'historical baseline',
                'verbose_name_plural': 'historical baselines',
                'db_table': 'clients_historicalbaseline',
                'ordering': ('-history_date', '-history_id'),
                'get_latest_by': ('history_date', 'history_id'),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.CreateModel(
            name='HistoricalBaselineTrial',
            fields=[
                ('key', models.UUIDField(db_index=True, editable=False)),
                ('step', models.CharField(max_length=16)),
                ('source', models.CharField(choices=[('microphone', 'microphone'), ('simulated', 'simulated'), ('file', 'recording'), ('typed', 'typed')], max_length=12)),
                ('made_at', models.DateTimeField()),
                ('figures', models.JSONField(default=dict)),
                ('reasons', models.JSONField(default=list)),
                ('capture', models.JSONField(default=dict)),
                ('snr_db', models.FloatField(null=True)),
                ('note', models.CharField(blank=True, max_length=300)),
                ('discarded_at', models.DateTimeField(null=True)),
                ('chosen', models.BooleanField(default=False, verbose_name='chosen instead of the best')),
                ('chosen_because', models.CharField(blank=True, max_length=300)),
                ('history_id', models.AutoField(primary_key=True, serialize=False)),
                ('history_date', models.DateTimeField(db_index=True)),
                ('history_change_reason', models.CharField(max_length=100, null=True)),
                ('history_type', models.CharField(choices=[('+', 'Created'), ('~', 'Changed'), ('-', 'Deleted')], max_length=1)),
                ('baseline', models.ForeignKey(blank=True, db_constraint=False, null=True, on_delete=django.db.models.deletion.DO_NOTHING, related_name='+', to='baseline.baseline')),
                ('history_user', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'verbose_name': 'historical baseline trial',
                'verbose_name_plural': 'historical baseline trials',
                'db_table': 'clients_historicalbaselinetrial',
                'ordering': ('-history_date', '-history_id'),
                'get_latest_by': ('history_date', 'history_id'),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.CreateModel(
            name='HistoricalReferenceFigure',
            fields=[
                ('id', models.BigIntegerField(auto_created=True, blank=True, db_index=True, verbose_name='ID')),
                ('measure', models.CharField(max_length=24)),
                ('age_band', models.CharField(blank=True, choices=[('under-13', 'under 13'), ('13-17', '13 to 17'), ('under-18', 'under 18'), ('18-39', '18 to 39'), ('40-59', '40 to 59'), ('60-74', '60 to 74'), ('75+', '75 or more')], max_length=8)),
                ('voice', models.CharField(blank=True, choices=[('treble', 'treble'), ('bass', 'bass'), ('own', 'own range')], max_length=8)),
                ('low', models.FloatField(blank=True, null=True, verbose_name='usual from')),
                ('high', models.FloatField(blank=True, null=True, verbose_name='usual to')),
                ('source', models.CharField(blank=True, max_length=200, verbose_name='source')),
                ('history_id', models.AutoField(primary_key=True, serialize=False)),
                ('history_date', models.DateTimeField(db_index=True)),
                ('history_change_reason', models.CharField(max_length=100, null=True)),
                ('history_type', models.CharField(choices=[('+', 'Created'), ('~', 'Changed'), ('-', 'Deleted')], max_length=1)),
                ('clinic', models.ForeignKey(blank=True, db_constraint=False, null=True, on_delete=django.db.models.deletion.DO_NOTHING, related_name='+', to='accounts.clinic')),
                ('history_user', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'verbose_name': 'historical reference figure',
                'verbose_name_plural': 'historical reference figures',
                'db_table': 'clients_historicalreferencefigure',
                'ordering': ('-history_date', '-history_id'),
                'get_latest_by': ('history_date', 'history_id'),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.CreateModel(
            name='BaselineTrial',
            fields=[
                ('key', models.UUIDField(editable=False, primary_key=True, serialize=False)),
                ('step', models.CharField(max_length=16)),
                ('source', models.CharField(choices=[('microphone', 'microphone'), ('simulated', 'simulated'), ('file', 'recording'), ('typed', 'typed')], max_length=12)),
                ('made_at', models.DateTimeField()),
                ('figures', models.JSONField(default=dict)),
                ('reasons', models.JSONField(default=list)),
                ('capture', models.JSONField(default=dict)),
                ('snr_db', models.FloatField(null=True)),
                ('note', models.CharField(blank=True, max_length=300)),
                ('discarded_at', models.DateTimeField(null=True)),
                ('chosen', models.BooleanField(default=False, verbose_name='chosen instead of the best')),
                ('chosen_because', models.CharField(blank=True, max_length=300)),
                ('baseline', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='trials', to='baseline.baseline')),
            ],
            options={
                'db_table': 'clients_baselinetrial',
                'ordering': ['made_at', 'key'],
                'indexes': [models.Index(fields=['baseline', 'step'], name='clients_bas_baselin_917ac9_idx')],
            },
        ),
        migrations.CreateModel(
            name='ReferenceFigure',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('measure', models.CharField(max_length=24)),
                ('age_band', models.CharField(blank=True, choices=[('under-13', 'under 13'), ('13-17', '13 to 17'), ('under-18', 'under 18'), ('18-39', '18 to 39'), ('40-59', '40 to 59'), ('60-74', '60 to 74'), ('75+', '75 or more')], max_length=8)),
                ('voice', models.CharField(blank=True, choices=[('treble', 'treble'), ('bass', 'bass'), ('own', 'own range')], max_length=8)),
                ('low', models.FloatField(blank=True, null=True, verbose_name='usual from')),
                ('high', models.FloatField(blank=True, null=True, verbose_name='usual to')),
                ('source', models.CharField(blank=True, max_length=200, verbose_name='source')),
                ('clinic', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='reference_figures', to='accounts.clinic')),
            ],
            options={
                'db_table': 'clients_referencefigure',
                'ordering': ['measure', 'age_band', 'voice'],
                'constraints': [models.UniqueConstraint(fields=('clinic', 'measure', 'age_band', 'voice'), name='one_reference_a_group')],
            },
        ),
        migrations.CreateModel(
            name='Target',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('kind', models.CharField(max_length=16)),
                ('rule', models.CharField(max_length=24)),
                ('decision', models.CharField(choices=[('accepted', 'accepted'), ('changed', 'changed'), ('refused', 'refused')], max_length=10)),
                ('values', models.JSONField()),
                ('proposed', models.JSONField()),
                ('inputs', models.JSONField()),
                ('counts', models.CharField(blank=True, max_length=8, verbose_name='seconds counted')),
                ('reason', models.TextField(blank=True)),
                ('decided_at', models.DateTimeField()),
                ('baseline', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='targets', to='baseline.baseline')),
                ('client', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='targets', to='clients.client')),
                ('decided_by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'db_table': 'clients_target',
                'ordering': ['-decided_at', '-pk'],
                'indexes': [models.Index(fields=['client', 'kind', '-decided_at'], name='clients_tar_client__f01d93_idx')],
            },
        ),
    ]
