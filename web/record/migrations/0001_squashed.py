"""What was prescribed, practised and decided: the tables as they stood when the steps before were put together."""

import datetime
import django.core.validators
import django.db.models.deletion
import django.db.models.expressions
import django.db.models.functions.datetime
import simple_history.models
import web.ui.times
from django.conf import settings
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
        ("programmes", "0001_initial"),
        ("programmes", "0002_documents_and_drafts"),
        ("programmes", "0003_withdrawn"),
        ("programmes", "0004_edits_of_drafts"),
        ("decisions", "0001_from_review"),
        ("decisions", "0002_worked_out_at"),
        ("decisions", "0003_stops_on_the_board"),
        ("decisions", "0004_worked_out_anew"),
        ("review", "0001_decisions"),
        ("review", "0002_standing_notes_messages"),
        ("review", "0003_stale_and_signed"),
        ("review", "0004_fault"),
        ("review", "0005_undone"),
        ("review", "0006_decisions_remember"),
        ("review", "0007_moved_out"),
    ]

    dependencies = [
        ('clients', '0001_squashed'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='Trial',
            fields=[
                ('key', models.UUIDField(editable=False, help_text='Made where the try was made, so that sending it twice saves it once.', primary_key=True, serialize=False)),
                ('role', models.CharField(blank=True, choices=[('poor', 'poor'), ('good', 'good')], max_length=4)),
                ('set_s', models.FloatField(null=True)),
                ('performed_at', models.DateTimeField()),
                ('received_at', models.DateTimeField(db_default=django.db.models.functions.datetime.Now(), default=web.ui.times.moment, editable=False)),
                ('device_time', models.CharField(blank=True, default='', max_length=40)),
                ('source', models.CharField(choices=[('microphone', 'microphone'), ('simulated', 'simulated voice'), ('file', 'recording'), ('stopwatch', 'stopwatch'), ('told', 'reported by the client'), ('paper', 'paper log'), ('table', 'imported table')], max_length=12)),
                ('outcome', models.CharField(choices=[('met', 'on target'), ('not_met', 'not on target'), ('not_judged', 'not judged')], max_length=12)),
                ('parts', models.JSONField(default=list)),
                ('total_s', models.FloatField(null=True)),
                ('steady_s', models.FloatField(null=True)),
                ('median_hz', models.FloatField(null=True)),
                ('error_cents', models.FloatField(null=True)),
                ('end_error_cents', models.FloatField(null=True)),
                ('share_on_pitch', models.FloatField(null=True)),
                ('spread_cents', models.FloatField(null=True)),
                ('drift_cents', models.FloatField(null=True)),
                ('level_mean_dbfs', models.FloatField(null=True)),
                ('level_slope_db_per_s', models.FloatField(null=True)),
                ('breaks', models.JSONField(default=list)),
                ('level_db', models.FloatField(null=True)),
                ('figures', models.JSONField(default=dict)),
                ('recording_s', models.FloatField(null=True)),
                ('sample_rate_hz', models.PositiveIntegerField(null=True)),
                ('noise_floor_dbfs', models.FloatField(null=True)),
                ('snr_db', models.FloatField(null=True)),
                ('clipped_fraction', models.FloatField(null=True)),
                ('reasons', models.JSONField(default=list)),
                ('capture', models.JSONField(default=dict)),
                ('client', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='trials', to='clients.client')),
            ],
            options={
                'db_table': 'practice_trial',
                'ordering': ['performed_at', 'key'],
            },
        ),
        migrations.CreateModel(
            name='HistoricalRuleSettings',
            fields=[
                ('id', models.BigIntegerField(auto_created=True, blank=True, db_index=True, verbose_name='ID')),
                ('changed', models.JSONField(default=dict)),
                ('history_id', models.AutoField(primary_key=True, serialize=False)),
                ('history_date', models.DateTimeField(db_index=True)),
                ('history_change_reason', models.CharField(max_length=100, null=True)),
                ('history_type', models.CharField(choices=[('+', 'Created'), ('~', 'Changed'), ('-', 'Deleted')], max_length=1)),
                ('client', models.ForeignKey(blank=True, db_constraint=False, null=True, on_delete=django.db.models.deletion.DO_NOTHING, related_name='+', to='clients.client')),
                ('history_user', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'verbose_name': 'historical rule settings',
                'verbose_name_plural': 'historical rule settingss',
                'db_table': 'decisions_historicalrulesettings',
                'ordering': ('-history_date', '-history_id'),
                'get_latest_by': ('history_date', 'history_id'),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.CreateModel(
            name='Programme',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('version', models.PositiveIntegerField()),
                ('published_at', models.DateTimeField()),
                ('document', models.JSONField(default=dict)),
                ('reason', models.TextField(blank=True, verbose_name='reason for this version')),
                ('overrules', models.JSONField(blank=True, default=dict)),
                ('concerns', models.JSONField(blank=True, default=list)),
                ('withdrawn_at', models.DateTimeField(blank=True, null=True)),
                ('client', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='programmes', to='clients.client')),
                ('published_by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('withdrawn_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'db_table': 'programmes_programme',
                'ordering': ['-version'],
            },
        ),
        migrations.CreateModel(
            name='PrescribedTask',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('position', models.PositiveSmallIntegerField(default=1)),
                ('task_code', models.CharField(blank=True, max_length=40)),
                ('item_id', models.CharField(blank=True, max_length=40)),
                ('measure', models.CharField(default='hold', max_length=12)),
                ('sound', models.CharField(choices=[('oh', 'oh'), ('ah', 'ah'), ('oo', 'oo'), ('ee', 'ee'), ('mee', 'mee'), ('hum', 'hum')], default='oh', max_length=40)),
                ('note_midi', models.PositiveSmallIntegerField(blank=True, null=True, validators=[django.core.validators.MinValueValidator(24), django.core.validators.MaxValueValidator(96)])),
                ('target_s', models.FloatField(null=True, validators=[django.core.validators.MinValueValidator(0.5), django.core.validators.MaxValueValidator(90.0)])),
                ('counts', models.CharField(choices=[('total', 'total duration'), ('steady', 'steady duration')], default='total', max_length=8)),
                ('tries', models.PositiveSmallIntegerField(default=5, validators=[django.core.validators.MinValueValidator(1), django.core.validators.MaxValueValidator(30)])),
                ('programme', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='tasks', to='record.programme')),
            ],
            options={
                'db_table': 'programmes_prescribedtask',
                'ordering': ['position'],
            },
        ),
        migrations.CreateModel(
            name='Decision',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('step', models.CharField(max_length=20)),
                ('reason', models.CharField(max_length=24)),
                ('facts', models.JSONField(default=dict)),
                ('rests_on', models.JSONField(default=list)),
                ('accepted', models.BooleanField()),
                ('refusal_reason', models.CharField(blank=True, choices=[('too_soon', 'too soon'), ('other_plan', 'another plan'), ('misleading', 'results are misleading'), ('clients_wish', 'client preference')], max_length=16)),
                ('decided_at', models.DateTimeField()),
                ('undone_at', models.DateTimeField(null=True)),
                ('client', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='decisions', to='clients.client')),
                ('decided_by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('undone_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('task', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='decisions', to='record.prescribedtask')),
                ('made', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to='record.programme')),
            ],
            options={
                'db_table': 'decisions_decision',
                'ordering': ['-decided_at', '-pk'],
            },
        ),
        migrations.CreateModel(
            name='RuleSettings',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('changed', models.JSONField(default=dict)),
                ('client', models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name='rule_settings', to='clients.client')),
            ],
            options={
                'db_table': 'decisions_rulesettings',
            },
        ),
        migrations.CreateModel(
            name='Session',
            fields=[
                ('key', models.UUIDField(editable=False, primary_key=True, serialize=False)),
                ('sort', models.CharField(choices=[('full', 'full'), ('short', 'short'), ('extra', 'extra'), ('reset', 'reset'), ('event', 'event')], max_length=8)),
                ('day', models.CharField(choices=[('usual', 'usual'), ('gentler', 'gentler'), ('rest', 'rest')], max_length=8)),
                ('voice', models.CharField(blank=True, choices=[('as_usual', 'as_usual'), ('tired', 'tired'), ('hoarse', 'hoarse'), ('ill', 'ill')], max_length=10)),
                ('place', models.CharField(choices=[('home', 'at home'), ('clinic', 'in the clinic'), ('paper', 'from paper')], default='home', max_length=8)),
                ('begun_at', models.DateTimeField()),
                ('ended_at', models.DateTimeField(null=True)),
                ('received_at', models.DateTimeField(db_default=django.db.models.functions.datetime.Now(), default=web.ui.times.moment, editable=False)),
                ('end_received_at', models.DateTimeField(null=True)),
                ('device_time', models.CharField(blank=True, default='', max_length=40)),
                ('ending', models.CharField(blank=True, choices=[('done', 'completed'), ('left', 'ended early'), ('stopped', 'stopped')], max_length=8)),
                ('items_done', models.PositiveSmallIntegerField(default=0)),
                ('items_planned', models.PositiveSmallIntegerField(default=0)),
                ('hours_since_medication', models.FloatField(null=True)),
                ('device', models.CharField(blank=True, max_length=200)),
                ('clock_off_s', models.IntegerField(null=True)),
                ('client', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='sessions', to='clients.client')),
                ('helper', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='sessions', to='clients.helper')),
                ('led_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('programme', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='sessions', to='record.programme')),
            ],
            options={
                'db_table': 'practice_session',
                'ordering': ['begun_at', 'key'],
            },
        ),
        migrations.CreateModel(
            name='SelfReport',
            fields=[
                ('key', models.UUIDField(editable=False, primary_key=True, serialize=False)),
                ('kind', models.CharField(choices=[('effort', 'bodily effort, 1 to 10'), ('concentration', 'concentration, 1 to 10'), ('strain', 'scratchy, tight or sore'), ('felt', 'felt check'), ('skipped', 'skipped'), ('breath', 'after a counted breath'), ('depth', 'depth in water, cm'), ('comment', 'comment'), ('bother', 'bother from the voice, 0 to 10'), ('demands', 'vocal demand today'), ('distance', 'the distance to the microphone')], max_length=16)),
                ('value', models.JSONField()),
                ('said_at', models.DateTimeField()),
                ('received_at', models.DateTimeField(db_default=django.db.models.functions.datetime.Now(), default=web.ui.times.moment, editable=False)),
                ('device_time', models.CharField(blank=True, default='', max_length=40)),
                ('client', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='self_reports', to='clients.client')),
                ('task', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='self_reports', to='record.prescribedtask')),
                ('session', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='self_reports', to='record.session')),
            ],
            options={
                'db_table': 'practice_selfreport',
                'ordering': ['said_at', 'key'],
            },
        ),
        migrations.CreateModel(
            name='ReferenceVowel',
            fields=[
                ('key', models.UUIDField(editable=False, primary_key=True, serialize=False)),
                ('device', models.CharField(max_length=200)),
                ('browser', models.CharField(max_length=200)),
                ('made_at', models.DateTimeField()),
                ('received_at', models.DateTimeField(db_default=django.db.models.functions.datetime.Now(), default=web.ui.times.moment, editable=False)),
                ('device_time', models.CharField(blank=True, default='', max_length=40)),
                ('level_dbfs', models.FloatField(null=True)),
                ('reasons', models.JSONField(default=list)),
                ('client', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='reference_vowels', to='clients.client')),
                ('session', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='reference_vowels', to='record.session')),
            ],
            options={
                'db_table': 'practice_referencevowel',
                'ordering': ['made_at', 'key'],
            },
        ),
        migrations.CreateModel(
            name='Trace',
            fields=[
                ('trial', models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, primary_key=True, serialize=False, to='record.trial')),
                ('packed', models.BinaryField()),
            ],
            options={
                'db_table': 'practice_trace',
            },
        ),
        migrations.AddField(
            model_name='trial',
            name='session',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='trials', to='record.session'),
        ),
        migrations.AddField(
            model_name='trial',
            name='task',
            field=models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='trials', to='record.prescribedtask'),
        ),
        migrations.AddConstraint(
            model_name='programme',
            constraint=models.UniqueConstraint(fields=('client', 'version'), name='one_version_of_a_number'),
        ),
        migrations.AddConstraint(
            model_name='prescribedtask',
            constraint=models.UniqueConstraint(fields=('programme', 'position'), name='one_task_a_place'),
        ),
        migrations.AddIndex(
            model_name='decision',
            index=models.Index(fields=['client', '-decided_at'], name='decisions_d_client__4e9e04_idx'),
        ),
        migrations.AddIndex(
            model_name='session',
            index=models.Index(fields=['client', 'begun_at'], name='practice_se_client__af1da4_idx'),
        ),
        migrations.AddConstraint(
            model_name='session',
            constraint=models.CheckConstraint(condition=models.Q(('begun_at__isnull', True), models.Q(('begun_at__gte', datetime.datetime(2000, 1, 1, 0, 0, tzinfo=datetime.timezone.utc)), ('begun_at__lte', django.db.models.expressions.CombinedExpression(models.F('received_at'), '+', models.Value(datetime.timedelta(days=1))))), _connector='OR'), name='session_begun_when_it_can_be'),
        ),
        migrations.AddConstraint(
            model_name='session',
            constraint=models.CheckConstraint(condition=models.Q(('ended_at__isnull', True), models.Q(('ended_at__gte', datetime.datetime(2000, 1, 1, 0, 0, tzinfo=datetime.timezone.utc)), ('ended_at__lte', django.db.models.expressions.CombinedExpression(models.F('end_received_at'), '+', models.Value(datetime.timedelta(days=1))))), _connector='OR'), name='session_ended_when_it_can_be'),
        ),
        migrations.AddIndex(
            model_name='selfreport',
            index=models.Index(fields=['client', 'kind', 'said_at'], name='practice_se_client__f9b004_idx'),
        ),
        migrations.AddConstraint(
            model_name='selfreport',
            constraint=models.CheckConstraint(condition=models.Q(('said_at__isnull', True), models.Q(('said_at__gte', datetime.datetime(2000, 1, 1, 0, 0, tzinfo=datetime.timezone.utc)), ('said_at__lte', django.db.models.expressions.CombinedExpression(models.F('received_at'), '+', models.Value(datetime.timedelta(days=1))))), _connector='OR'), name='mark_said_when_it_can_be'),
        ),
        migrations.AddIndex(
            model_name='referencevowel',
            index=models.Index(fields=['client', 'device', 'browser', 'made_at'], name='practice_re_client__5be14b_idx'),
        ),
        migrations.AddConstraint(
            model_name='referencevowel',
            constraint=models.CheckConstraint(condition=models.Q(('made_at__isnull', True), models.Q(('made_at__gte', datetime.datetime(2000, 1, 1, 0, 0, tzinfo=datetime.timezone.utc)), ('made_at__lte', django.db.models.expressions.CombinedExpression(models.F('received_at'), '+', models.Value(datetime.timedelta(days=1))))), _connector='OR'), name='vowel_made_when_it_can_be'),
        ),
        migrations.AddIndex(
            model_name='trial',
            index=models.Index(fields=['client', 'performed_at'], name='practice_tr_client__94c784_idx'),
        ),
        migrations.AddIndex(
            model_name='trial',
            index=models.Index(fields=['task', 'performed_at'], name='practice_tr_task_id_206929_idx'),
        ),
        migrations.AddConstraint(
            model_name='trial',
            constraint=models.CheckConstraint(condition=models.Q(('performed_at__isnull', True), models.Q(('performed_at__gte', datetime.datetime(2000, 1, 1, 0, 0, tzinfo=datetime.timezone.utc)), ('performed_at__lte', django.db.models.expressions.CombinedExpression(models.F('received_at'), '+', models.Value(datetime.timedelta(days=1))))), _connector='OR'), name='trial_made_when_it_can_be'),
        ),
    ]
