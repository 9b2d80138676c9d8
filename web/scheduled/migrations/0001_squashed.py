"""What the clock has done: the tables as they stood when the steps before were put together."""

import django.db.models.deletion
import django.utils.timezone
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True
    replaces = [
        ("scheduled", "0001_from_review"),
        ("scheduled", "0002_runs"),
        ("review", "0001_decisions"),
        ("review", "0002_standing_notes_messages"),
        ("review", "0003_stale_and_signed"),
        ("review", "0004_fault"),
        ("review", "0005_undone"),
        ("review", "0006_decisions_remember"),
        ("review", "0007_moved_out"),
    ]

    dependencies = [
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='Run',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('what', models.CharField(choices=[('backup', 'a backup'), ('mail', 'a mail sent to ourselves')], max_length=12)),
                ('at', models.DateTimeField(default=django.utils.timezone.now)),
                ('succeeded', models.BooleanField()),
                ('words', models.CharField(blank=True, max_length=500)),
            ],
            options={
                'ordering': ['-at', '-pk'],
                'indexes': [models.Index(fields=['what', 'at'], name='scheduled_r_what_17b4ef_idx')],
            },
        ),
        migrations.CreateModel(
            name='Digest',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('week', models.DateField()),
                ('sent_at', models.DateTimeField(auto_now_add=True)),
                ('user', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'constraints': [models.UniqueConstraint(fields=('user', 'week'), name='one_digest_a_week')],
            },
        ),
    ]
