"""A clinic's own tasks and library: the tables as they stood when the steps before were put together."""

import django.db.models.deletion
import simple_history.models
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True
    replaces = [
        ("catalogue", "0001_initial"),
        ("catalogue", "0002_library_and_pictures"),
    ]

    dependencies = [
        ('accounts', '0001_squashed'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='HistoricalOwnTask',
            fields=[
                ('id', models.BigIntegerField(auto_created=True, blank=True, db_index=True, verbose_name='ID')),
                ('code', models.CharField(max_length=40)),
                ('family', models.CharField(choices=[('release', 'Release and posture'), ('breath', 'Breath'), ('occluded', 'Semi-occluded voicing'), ('onset', 'Onset and resonance'), ('block', 'Vocal function block'), ('range', 'Range and speaking pitch'), ('loud', 'Loudness and effort'), ('articulation', 'Articulation'), ('cooldown', 'Cool-down and aftercare')], max_length=16)),
                ('data', models.JSONField()),
                ('history_id', models.AutoField(primary_key=True, serialize=False)),
                ('history_date', models.DateTimeField(db_index=True)),
                ('history_change_reason', models.CharField(max_length=100, null=True)),
                ('history_type', models.CharField(choices=[('+', 'Created'), ('~', 'Changed'), ('-', 'Deleted')], max_length=1)),
                ('clinic', models.ForeignKey(blank=True, db_constraint=False, null=True, on_delete=django.db.models.deletion.DO_NOTHING, related_name='+', to='accounts.clinic')),
                ('history_user', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'verbose_name': 'historical own task',
                'verbose_name_plural': 'historical own tasks',
                'ordering': ('-history_date', '-history_id'),
                'get_latest_by': ('history_date', 'history_id'),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.CreateModel(
            name='Picture',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=60)),
                ('alt', models.CharField(max_length=300)),
                ('image', models.BinaryField()),
                ('width', models.PositiveSmallIntegerField()),
                ('height', models.PositiveSmallIntegerField()),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='pictures', to=settings.AUTH_USER_MODEL)),
                ('clinic', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='pictures', to='accounts.clinic')),
            ],
            options={
                'ordering': ['name', 'pk'],
            },
        ),
        migrations.CreateModel(
            name='HiddenTask',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('code', models.CharField(max_length=40)),
                ('clinic', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='hidden_tasks', to='accounts.clinic')),
            ],
            options={
                'ordering': ['code'],
                'constraints': [models.UniqueConstraint(fields=('clinic', 'code'), name='hidden_only_once')],
            },
        ),
        migrations.CreateModel(
            name='LibraryEntry',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('kind', models.CharField(choices=[('programme', 'programme'), ('lines', 'lines to say')], max_length=12)),
                ('name', models.CharField(max_length=60)),
                ('version', models.PositiveSmallIntegerField(default=1)),
                ('data', models.JSONField()),
                ('shared', models.BooleanField(default=True)),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('put_away_at', models.DateTimeField(null=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='kept_in_library', to=settings.AUTH_USER_MODEL)),
                ('clinic', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='library', to='accounts.clinic')),
            ],
            options={
                'ordering': ['name', '-version'],
                'constraints': [models.UniqueConstraint(fields=('clinic', 'kind', 'name', 'by', 'version'), name='one_library_version')],
            },
        ),
        migrations.CreateModel(
            name='OwnTask',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('code', models.CharField(max_length=40)),
                ('family', models.CharField(choices=[('release', 'Release and posture'), ('breath', 'Breath'), ('occluded', 'Semi-occluded voicing'), ('onset', 'Onset and resonance'), ('block', 'Vocal function block'), ('range', 'Range and speaking pitch'), ('loud', 'Loudness and effort'), ('articulation', 'Articulation'), ('cooldown', 'Cool-down and aftercare')], max_length=16)),
                ('data', models.JSONField()),
                ('clinic', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='own_tasks', to='accounts.clinic')),
            ],
            options={
                'ordering': ['code'],
                'constraints': [models.UniqueConstraint(fields=('clinic', 'code'), name='one_own_task_of_a_code')],
            },
        ),
    ]
