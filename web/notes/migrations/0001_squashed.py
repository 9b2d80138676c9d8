"""Notes, signed for good: the tables as they stood when the steps before were put together."""

import django.db.models.deletion
import simple_history.models
from django.conf import settings
from django.db import migrations, models


# A signed note stays as it is; a client who is erased whole takes the notes along: whoever
# erases says so in the transaction.
SIGNED = """
CREATE FUNCTION review_note_is_signed() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF OLD.signed_at IS NOT NULL
     AND NOT (TG_OP = 'DELETE' AND coalesce(current_setting('still_reed.erasing', true), '') = 'on') THEN
    RAISE EXCEPTION 'note % is signed and stays as it is', OLD.id USING ERRCODE = 'check_violation';
  END IF;
  RETURN CASE WHEN TG_OP = 'DELETE' THEN OLD ELSE NEW END;
END $$;
CREATE TRIGGER review_note_signed BEFORE UPDATE OR DELETE ON notes_note
  FOR EACH ROW EXECUTE FUNCTION review_note_is_signed();
"""


class Migration(migrations.Migration):

    initial = True
    replaces = [
        ("notes", "0001_from_review"),
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
        ('record', '0001_squashed'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='HistoricalNote',
            fields=[
                ('id', models.BigIntegerField(auto_created=True, blank=True, db_index=True, verbose_name='ID')),
                ('kind', models.CharField(choices=[('session', 'session note'), ('progress', 'progress report'), ('discharge', 'discharge report'), ('specialist', 'summary for a specialist visit')], max_length=12)),
                ('first', models.DateField()),
                ('last', models.DateField()),
                ('words', models.JSONField(default=dict)),
                ('edition', models.PositiveIntegerField(default=1)),
                ('made_at', models.DateTimeField(blank=True, editable=False)),
                ('signed_at', models.DateTimeField(null=True)),
                ('figures', models.JSONField(default=dict)),
                ('history_id', models.AutoField(primary_key=True, serialize=False)),
                ('history_date', models.DateTimeField(db_index=True)),
                ('history_change_reason', models.CharField(max_length=100, null=True)),
                ('history_type', models.CharField(choices=[('+', 'Created'), ('~', 'Changed'), ('-', 'Deleted')], max_length=1)),
                ('client', models.ForeignKey(blank=True, db_constraint=False, null=True, on_delete=django.db.models.deletion.DO_NOTHING, related_name='+', to='clients.client')),
                ('history_user', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('made_by', models.ForeignKey(blank=True, db_constraint=False, null=True, on_delete=django.db.models.deletion.DO_NOTHING, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('session', models.ForeignKey(blank=True, db_constraint=False, null=True, on_delete=django.db.models.deletion.DO_NOTHING, related_name='+', to='record.session')),
                ('signed_by', models.ForeignKey(blank=True, db_constraint=False, null=True, on_delete=django.db.models.deletion.DO_NOTHING, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'verbose_name': 'historical note',
                'verbose_name_plural': 'historical notes',
                'ordering': ('-history_date', '-history_id'),
                'get_latest_by': ('history_date', 'history_id'),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.CreateModel(
            name='Note',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('kind', models.CharField(choices=[('session', 'session note'), ('progress', 'progress report'), ('discharge', 'discharge report'), ('specialist', 'summary for a specialist visit')], max_length=12)),
                ('first', models.DateField()),
                ('last', models.DateField()),
                ('words', models.JSONField(default=dict)),
                ('edition', models.PositiveIntegerField(default=1)),
                ('made_at', models.DateTimeField(auto_now_add=True)),
                ('signed_at', models.DateTimeField(null=True)),
                ('figures', models.JSONField(default=dict)),
                ('client', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='notes', to='clients.client')),
                ('made_by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('session', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to='record.session')),
                ('signed_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['-last', '-pk'],
            },
        ),
        migrations.CreateModel(
            name='Addendum',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('words', models.TextField()),
                ('added_at', models.DateTimeField(auto_now_add=True)),
                ('added_by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('note', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='addenda', to='notes.note')),
            ],
            options={
                'ordering': ['added_at', 'pk'],
            },
        ),
        migrations.RunSQL(SIGNED, migrations.RunSQL.noop),
    ]
