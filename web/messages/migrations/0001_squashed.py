"""Messages to clients: the tables as they stood when the steps before were put together."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True
    replaces = [
        ("client_messages", "0001_from_review"),
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
            name='Message',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('kind', models.CharField(choices=[('missed', 'missed session'), ('check_in', 'check-in'), ('changed', 'programme changed')], max_length=10)),
                ('to', models.CharField(max_length=160)),
                ('words', models.TextField()),
                ('day', models.DateField()),
                ('written_at', models.DateTimeField(auto_now_add=True)),
                ('sent_at', models.DateTimeField(null=True)),
                ('client', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='messages', to='clients.client')),
                ('written_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['-written_at', '-pk'],
                'constraints': [models.UniqueConstraint(condition=models.Q(('kind', 'missed')), fields=('client', 'day'), name='one_reminder_a_day')],
            },
        ),
    ]
