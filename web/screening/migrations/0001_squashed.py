"""Screenings and stops: the tables as they stood when the steps before were put together."""

import datetime
import django.db.models.deletion
import django.db.models.expressions
import simple_history.models
import web.ui.times
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
        ('clients', '0001_squashed'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='HistoricalScreen',
            fields=[
                ('id', models.BigIntegerField(auto_created=True, blank=True, db_index=True, verbose_name='ID')),
                ('asked_at', models.DateTimeField()),
                ('flags', models.JSONField(default=list, verbose_name='red flags reported')),
                ('asked', models.JSONField(default=list, verbose_name='cautions asked about')),
                ('note', models.TextField(blank=True)),
                ('safe_because', models.TextField(blank=True, verbose_name='why it is safe to continue')),
                ('safe_at', models.DateTimeField(null=True)),
                ('referred_at', models.DateTimeField(null=True)),
                ('referred_to', models.CharField(blank=True, max_length=160)),
                ('history_id', models.AutoField(primary_key=True, serialize=False)),
                ('history_date', models.DateTimeField(db_index=True)),
                ('history_change_reason', models.CharField(max_length=100, null=True)),
                ('history_type', models.CharField(choices=[('+', 'Created'), ('~', 'Changed'), ('-', 'Deleted')], max_length=1)),
                ('asked_by', models.ForeignKey(blank=True, db_constraint=False, null=True, on_delete=django.db.models.deletion.DO_NOTHING, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('client', models.ForeignKey(blank=True, db_constraint=False, null=True, on_delete=django.db.models.deletion.DO_NOTHING, related_name='+', to='clients.client')),
                ('history_user', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('safe_by', models.ForeignKey(blank=True, db_constraint=False, null=True, on_delete=django.db.models.deletion.DO_NOTHING, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'verbose_name': 'historical screen',
                'verbose_name_plural': 'historical screens',
                'db_table': 'clients_historicalscreen',
                'ordering': ('-history_date', '-history_id'),
                'get_latest_by': ('history_date', 'history_id'),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.CreateModel(
            name='HistoricalStop',
            fields=[
                ('key', models.UUIDField(db_index=True, editable=False)),
                ('session_key', models.UUIDField(null=True)),
                ('flags', models.JSONField()),
                ('tier', models.CharField(max_length=20)),
                ('pauses', models.BooleanField()),
                ('comment', models.CharField(blank=True, max_length=500)),
                ('said_at', models.DateTimeField()),
                ('received_at', models.DateTimeField(default=web.ui.times.moment, editable=False)),
                ('device_time', models.CharField(blank=True, max_length=40)),
                ('tells', models.BooleanField(default=False)),
                ('told', models.JSONField(default=list, verbose_name='recipients')),
                ('delivered_at', models.DateTimeField(null=True)),
                ('trouble', models.CharField(blank=True, max_length=16)),
                ('taken_back_at', models.DateTimeField(null=True)),
                ('read_at', models.DateTimeField(null=True)),
                ('passed_on_at', models.DateTimeField(null=True)),
                ('cleared_at', models.DateTimeField(null=True)),
                ('cleared_because', models.TextField(blank=True)),
                ('history_id', models.AutoField(primary_key=True, serialize=False)),
                ('history_date', models.DateTimeField(db_index=True)),
                ('history_change_reason', models.CharField(max_length=100, null=True)),
                ('history_type', models.CharField(choices=[('+', 'Created'), ('~', 'Changed'), ('-', 'Deleted')], max_length=1)),
                ('cleared_by', models.ForeignKey(blank=True, db_constraint=False, null=True, on_delete=django.db.models.deletion.DO_NOTHING, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('client', models.ForeignKey(blank=True, db_constraint=False, null=True, on_delete=django.db.models.deletion.DO_NOTHING, related_name='+', to='clients.client')),
                ('history_user', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('read_by', models.ForeignKey(blank=True, db_constraint=False, null=True, on_delete=django.db.models.deletion.DO_NOTHING, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'verbose_name': 'historical stop',
                'verbose_name_plural': 'historical stops',
                'db_table': 'clients_historicalstop',
                'ordering': ('-history_date', '-history_id'),
                'get_latest_by': ('history_date', 'history_id'),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.CreateModel(
            name='Screen',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('asked_at', models.DateTimeField()),
                ('flags', models.JSONField(default=list, verbose_name='red flags reported')),
                ('asked', models.JSONField(default=list, verbose_name='cautions asked about')),
                ('note', models.TextField(blank=True)),
                ('safe_because', models.TextField(blank=True, verbose_name='why it is safe to continue')),
                ('safe_at', models.DateTimeField(null=True)),
                ('referred_at', models.DateTimeField(null=True)),
                ('referred_to', models.CharField(blank=True, max_length=160)),
                ('asked_by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('client', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='screens', to='clients.client')),
                ('safe_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'db_table': 'clients_screen',
                'ordering': ['-asked_at', '-pk'],
            },
        ),
        migrations.CreateModel(
            name='Stop',
            fields=[
                ('key', models.UUIDField(editable=False, primary_key=True, serialize=False)),
                ('session_key', models.UUIDField(null=True)),
                ('flags', models.JSONField()),
                ('tier', models.CharField(max_length=20)),
                ('pauses', models.BooleanField()),
                ('comment', models.CharField(blank=True, max_length=500)),
                ('said_at', models.DateTimeField()),
                ('received_at', models.DateTimeField(default=web.ui.times.moment, editable=False)),
                ('device_time', models.CharField(blank=True, max_length=40)),
                ('tells', models.BooleanField(default=False)),
                ('told', models.JSONField(default=list, verbose_name='recipients')),
                ('delivered_at', models.DateTimeField(null=True)),
                ('trouble', models.CharField(blank=True, max_length=16)),
                ('taken_back_at', models.DateTimeField(null=True)),
                ('read_at', models.DateTimeField(null=True)),
                ('passed_on_at', models.DateTimeField(null=True)),
                ('cleared_at', models.DateTimeField(null=True)),
                ('cleared_because', models.TextField(blank=True)),
                ('cleared_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('client', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='stops', to='clients.client')),
                ('read_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'db_table': 'clients_stop',
                'ordering': ['-said_at', 'key'],
                'indexes': [models.Index(fields=['client', 'cleared_at'], name='clients_sto_client__01e03f_idx'), models.Index(condition=models.Q(('delivered_at', None), ('tells', True)), fields=['received_at'], name='stops_to_deliver')],
                'constraints': [models.CheckConstraint(condition=models.Q(('said_at__isnull', True), models.Q(('said_at__gte', datetime.datetime(2000, 1, 1, 0, 0, tzinfo=datetime.timezone.utc)), ('said_at__lte', django.db.models.expressions.CombinedExpression(models.F('received_at'), '+', models.Value(datetime.timedelta(days=1))))), _connector='OR'), name='stop_said_when_it_can_be')],
            },
        ),
    ]
