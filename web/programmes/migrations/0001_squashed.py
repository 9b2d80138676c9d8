"""Drafts of programmes: the tables as they stood when the steps before were put together."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True
    replaces = [
        ("programmes", "0001_initial"),
        ("programmes", "0002_documents_and_drafts"),
        ("programmes", "0003_withdrawn"),
        ("programmes", "0004_edits_of_drafts"),
    ]

    dependencies = [
        ('clients', '0001_squashed'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='Draft',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('document', models.JSONField()),
                ('edition', models.PositiveIntegerField(default=1)),
                ('changed_at', models.DateTimeField(auto_now=True)),
                ('changed_by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('client', models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name='draft', to='clients.client')),
            ],
        ),
        migrations.CreateModel(
            name='DraftChange',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('edition', models.PositiveIntegerField()),
                ('page', models.CharField(blank=True, max_length=40)),
                ('number', models.PositiveBigIntegerField(default=0)),
                ('way', models.CharField(choices=[('do', 'done'), ('undo', 'undone'), ('redo', 'redone'), ('handed_over', 'prescribed')], default='do', max_length=12)),
                ('forth', models.JSONField(default=list)),
                ('back', models.JSONField(default=list)),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('client', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='draft_changes', to='clients.client')),
                ('of', models.ForeignKey(null=True, on_delete=django.db.models.deletion.CASCADE, related_name='+', to='programmes.draftchange')),
            ],
            options={
                'ordering': ['edition'],
                'constraints': [models.UniqueConstraint(fields=('client', 'edition'), name='one_change_an_edition'), models.UniqueConstraint(condition=models.Q(('page', ''), _negated=True), fields=('client', 'page', 'number'), name='one_change_a_number')],
            },
        ),
    ]
