"""Clinics, people, and what they are let in by: the tables as they stood when the steps before were put together."""

import django.contrib.auth.validators
import django.core.validators
import django.db.models.deletion
import django.utils.timezone
import simple_history.models
import web.accounts.models
from django.conf import settings
from django.db import migrations, models


# Lines of the access log are only ever added to.
LINES_ARE_KEPT = """
CREATE FUNCTION still_reed_keeps_lines() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP = 'DELETE' AND current_setting('still_reed.ends_lines', true) = 'on' THEN
    RETURN OLD;
  END IF;
  RAISE EXCEPTION 'a line of who opened a record is kept as it is';
END $$;
CREATE TRIGGER lines_are_kept BEFORE UPDATE OR DELETE ON accounts_opened
  FOR EACH ROW EXECUTE FUNCTION still_reed_keeps_lines();
"""


class Migration(migrations.Migration):

    initial = True
    replaces = [
        ("accounts", "0001_initial"),
        ("accounts", "0002_clinic_safety_settings"),
        ("accounts", "0003_lead"),
        ("accounts", "0004_mail_and_guesses"),
        ("accounts", "0005_unsaved"),
        ("accounts", "0006_opened_lines"),
        ("accounts", "0007_idle"),
        ("accounts", "0008_defaults_in_the_database"),
        ("accounts", "0009_roles_and_cover"),
        ("accounts", "0010_second_step"),
        ("accounts", "0011_helpers_auditors_history"),
        ("accounts", "0012_people_as_they_stand"),
        ("accounts", "0013_archived_kept_years"),
        ("accounts", "0014_people_with_their_clinic"),
        ("accounts", "0015_role_given_at"),
    ]

    dependencies = [
        ('auth', '0012_alter_user_first_name_max_length'),
    ]

    operations = [
        migrations.CreateModel(
            name='User',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('password', models.CharField(max_length=128, verbose_name='password')),
                ('last_login', models.DateTimeField(blank=True, null=True, verbose_name='last login')),
                ('is_superuser', models.BooleanField(default=False, help_text='Designates that this user has all permissions without explicitly assigning them.', verbose_name='superuser status')),
                ('username', models.CharField(error_messages={'unique': 'A user with that username already exists.'}, help_text='Required. 150 characters or fewer. Letters, digits and @/./+/-/_ only.', max_length=150, unique=True, validators=[django.contrib.auth.validators.UnicodeUsernameValidator()], verbose_name='username')),
                ('first_name', models.CharField(blank=True, max_length=150, verbose_name='first name')),
                ('last_name', models.CharField(blank=True, max_length=150, verbose_name='last name')),
                ('email', models.EmailField(blank=True, max_length=254, verbose_name='email address')),
                ('is_staff', models.BooleanField(default=False, help_text='Designates whether the user can log into this admin site.', verbose_name='staff status')),
                ('is_active', models.BooleanField(default=True, help_text='Designates whether this user should be treated as active. Unselect this instead of deleting accounts.', verbose_name='active')),
                ('date_joined', models.DateTimeField(default=django.utils.timezone.now, verbose_name='date joined')),
                ('role', models.CharField(choices=[('clinician', 'clinician (prescribes and decides)'), ('assistant', 'assistant (leads sessions and logs practice)'), ('viewer', 'student (read-only)'), ('auditor', 'auditor (read-only, without names)'), ('client', 'practise: a client'), ('helper', 'helper (practises with a client)')], max_length=16, verbose_name='may')),
                ('role_given_at', models.DateTimeField(editable=False, null=True)),
                ('groups', models.ManyToManyField(blank=True, help_text='The groups this user belongs to. A user will get all permissions granted to each of their groups.', related_name='user_set', related_query_name='user', to='auth.group', verbose_name='groups')),
                ('user_permissions', models.ManyToManyField(blank=True, help_text='Specific permissions for this user.', related_name='user_set', related_query_name='user', to='auth.permission', verbose_name='user permissions')),
            ],
            options={
                'verbose_name': 'user',
                'verbose_name_plural': 'users',
                'abstract': False,
            },
            managers=[
                ('objects', web.accounts.models.People()),
            ],
        ),
        migrations.CreateModel(
            name='Clinic',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=120)),
                ('time_zone', models.CharField(default='UTC', max_length=64, validators=[web.accounts.models.known_time_zone])),
                ('a4_hz', models.FloatField(default=440.0, validators=[django.core.validators.MinValueValidator(430.0), django.core.validators.MaxValueValidator(446.0)], verbose_name='reference pitch A4 (Hz)')),
                ('address', models.TextField(blank=True, verbose_name='postal address (for letters)')),
                ('telephone', models.CharField(blank=True, default='', max_length=40, verbose_name='phone number (shown to clients)')),
                ('emergency_number', models.CharField(default='112', max_length=40)),
                ('unexamined_limit_days', models.PositiveSmallIntegerField(default=28, validators=[django.core.validators.MinValueValidator(14), django.core.validators.MaxValueValidator(28)], verbose_name='laryngeal exam needed after a voice change of (days)')),
                ('mail_label', models.CharField(choices=[('initials', 'by initials'), ('number', 'by number')], default='initials', help_text='Emails never contain names or symptoms.', max_length=8, verbose_name='clients in emails to staff are shown')),
                ('questionnaire', models.CharField(blank=True, max_length=80, verbose_name='questionnaire (total score)')),
                ('idle_minutes', models.PositiveSmallIntegerField(db_default=30, default=30, validators=[django.core.validators.MinValueValidator(5), django.core.validators.MaxValueValidator(480)], verbose_name='session timeout (minutes)')),
                ('log_kept_days', models.PositiveSmallIntegerField(db_default=1095, default=1095, validators=[django.core.validators.MinValueValidator(365), django.core.validators.MaxValueValidator(11000)], verbose_name='access log retention (days)')),
                ('erased_after_days', models.PositiveSmallIntegerField(db_default=14, default=14, validators=[django.core.validators.MinValueValidator(1), django.core.validators.MaxValueValidator(90)], verbose_name='erasure can be cancelled for (days)')),
                ('archived_kept_years', models.PositiveSmallIntegerField(blank=True, help_text='Leave empty to keep archived records. The lead can cancel each erasure until it happens.', null=True, validators=[django.core.validators.MinValueValidator(1), django.core.validators.MaxValueValidator(99)], verbose_name='erase archived records after (years)')),
                ('second_step_required', models.BooleanField(db_default=False, default=False, help_text='An authenticator app or a passkey. Staff without one set it up at their next sign-in.', verbose_name='require two-step verification for all staff')),
                ('device_remembered_days', models.PositiveSmallIntegerField(db_default=14, default=14, help_text='0: two-step verification at every sign-in.', validators=[django.core.validators.MaxValueValidator(30)], verbose_name='trust a device for (days)')),
                ('sees_all', models.BooleanField(db_default=True, default=True, help_text='Otherwise staff see their own clients, shared clients and clients they cover.', verbose_name='all staff see all clients')),
                ('deputy', models.ForeignKey(blank=True, help_text='Receives every stop alert, as does the client’s clinician.', null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('lead', models.ForeignKey(blank=True, help_text='Receives stops that stay unread for one working day.', null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
        ),
        migrations.AddField(
            model_name='user',
            name='clinic',
            field=models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='users', to='accounts.clinic'),
        ),
        migrations.CreateModel(
            name='Guesses',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('what', models.CharField(max_length=80)),
                ('window', models.DateTimeField()),
                ('count', models.PositiveIntegerField(default=0)),
            ],
            options={
                'constraints': [models.UniqueConstraint(fields=('what', 'window'), name='one_count_a_window')],
            },
        ),
        migrations.CreateModel(
            name='HistoricalClinic',
            fields=[
                ('id', models.BigIntegerField(auto_created=True, blank=True, db_index=True, verbose_name='ID')),
                ('name', models.CharField(max_length=120)),
                ('time_zone', models.CharField(default='UTC', max_length=64, validators=[web.accounts.models.known_time_zone])),
                ('a4_hz', models.FloatField(default=440.0, validators=[django.core.validators.MinValueValidator(430.0), django.core.validators.MaxValueValidator(446.0)], verbose_name='reference pitch A4 (Hz)')),
                ('address', models.TextField(blank=True, verbose_name='postal address (for letters)')),
                ('telephone', models.CharField(blank=True, default='', max_length=40, verbose_name='phone number (shown to clients)')),
                ('emergency_number', models.CharField(default='112', max_length=40)),
                ('unexamined_limit_days', models.PositiveSmallIntegerField(default=28, validators=[django.core.validators.MinValueValidator(14), django.core.validators.MaxValueValidator(28)], verbose_name='laryngeal exam needed after a voice change of (days)')),
                ('mail_label', models.CharField(choices=[('initials', 'by initials'), ('number', 'by number')], default='initials', help_text='Emails never contain names or symptoms.', max_length=8, verbose_name='clients in emails to staff are shown')),
                ('questionnaire', models.CharField(blank=True, max_length=80, verbose_name='questionnaire (total score)')),
                ('idle_minutes', models.PositiveSmallIntegerField(db_default=30, default=30, validators=[django.core.validators.MinValueValidator(5), django.core.validators.MaxValueValidator(480)], verbose_name='session timeout (minutes)')),
                ('log_kept_days', models.PositiveSmallIntegerField(db_default=1095, default=1095, validators=[django.core.validators.MinValueValidator(365), django.core.validators.MaxValueValidator(11000)], verbose_name='access log retention (days)')),
                ('erased_after_days', models.PositiveSmallIntegerField(db_default=14, default=14, validators=[django.core.validators.MinValueValidator(1), django.core.validators.MaxValueValidator(90)], verbose_name='erasure can be cancelled for (days)')),
                ('archived_kept_years', models.PositiveSmallIntegerField(blank=True, help_text='Leave empty to keep archived records. The lead can cancel each erasure until it happens.', null=True, validators=[django.core.validators.MinValueValidator(1), django.core.validators.MaxValueValidator(99)], verbose_name='erase archived records after (years)')),
                ('second_step_required', models.BooleanField(db_default=False, default=False, help_text='An authenticator app or a passkey. Staff without one set it up at their next sign-in.', verbose_name='require two-step verification for all staff')),
                ('device_remembered_days', models.PositiveSmallIntegerField(db_default=14, default=14, help_text='0: two-step verification at every sign-in.', validators=[django.core.validators.MaxValueValidator(30)], verbose_name='trust a device for (days)')),
                ('sees_all', models.BooleanField(db_default=True, default=True, help_text='Otherwise staff see their own clients, shared clients and clients they cover.', verbose_name='all staff see all clients')),
                ('history_id', models.AutoField(primary_key=True, serialize=False)),
                ('history_date', models.DateTimeField(db_index=True)),
                ('history_change_reason', models.CharField(max_length=100, null=True)),
                ('history_type', models.CharField(choices=[('+', 'Created'), ('~', 'Changed'), ('-', 'Deleted')], max_length=1)),
                ('deputy', models.ForeignKey(blank=True, db_constraint=False, help_text='Receives every stop alert, as does the client’s clinician.', null=True, on_delete=django.db.models.deletion.DO_NOTHING, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('history_user', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('lead', models.ForeignKey(blank=True, db_constraint=False, help_text='Receives stops that stay unread for one working day.', null=True, on_delete=django.db.models.deletion.DO_NOTHING, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'verbose_name': 'historical clinic',
                'verbose_name_plural': 'historical clinics',
                'ordering': ('-history_date', '-history_id'),
                'get_latest_by': ('history_date', 'history_id'),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.CreateModel(
            name='HistoricalUser',
            fields=[
                ('id', models.BigIntegerField(auto_created=True, blank=True, db_index=True, verbose_name='ID')),
                ('is_superuser', models.BooleanField(default=False, help_text='Designates that this user has all permissions without explicitly assigning them.', verbose_name='superuser status')),
                ('username', models.CharField(db_index=True, error_messages={'unique': 'A user with that username already exists.'}, help_text='Required. 150 characters or fewer. Letters, digits and @/./+/-/_ only.', max_length=150, validators=[django.contrib.auth.validators.UnicodeUsernameValidator()], verbose_name='username')),
                ('first_name', models.CharField(blank=True, max_length=150, verbose_name='first name')),
                ('last_name', models.CharField(blank=True, max_length=150, verbose_name='last name')),
                ('email', models.EmailField(blank=True, max_length=254, verbose_name='email address')),
                ('is_staff', models.BooleanField(default=False, help_text='Designates whether the user can log into this admin site.', verbose_name='staff status')),
                ('is_active', models.BooleanField(default=True, help_text='Designates whether this user should be treated as active. Unselect this instead of deleting accounts.', verbose_name='active')),
                ('role', models.CharField(choices=[('clinician', 'clinician (prescribes and decides)'), ('assistant', 'assistant (leads sessions and logs practice)'), ('viewer', 'student (read-only)'), ('auditor', 'auditor (read-only, without names)'), ('client', 'practise: a client'), ('helper', 'helper (practises with a client)')], max_length=16, verbose_name='may')),
                ('history_id', models.AutoField(primary_key=True, serialize=False)),
                ('history_date', models.DateTimeField(db_index=True)),
                ('history_change_reason', models.CharField(max_length=100, null=True)),
                ('history_type', models.CharField(choices=[('+', 'Created'), ('~', 'Changed'), ('-', 'Deleted')], max_length=1)),
                ('clinic', models.ForeignKey(blank=True, db_constraint=False, null=True, on_delete=django.db.models.deletion.DO_NOTHING, related_name='+', to='accounts.clinic')),
                ('history_user', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'verbose_name': 'historical user',
                'verbose_name_plural': 'historical users',
                'ordering': ('-history_date', '-history_id'),
                'get_latest_by': ('history_date', 'history_id'),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.CreateModel(
            name='Cover',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('first', models.DateField()),
                ('last', models.DateField()),
                ('made_at', models.DateTimeField(auto_now_add=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='covers', to=settings.AUTH_USER_MODEL)),
                ('made_by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('of', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='covered', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['first', 'pk'],
                'constraints': [models.CheckConstraint(condition=models.Q(('last__gte', models.F('first'))), name='cover_ends_after_it_begins'), models.CheckConstraint(condition=models.Q(('of', models.F('by')), _negated=True), name='nobody_covers_themselves')],
            },
        ),
        migrations.CreateModel(
            name='Opened',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('record', models.PositiveBigIntegerField()),
                ('kind', models.CharField(choices=[('opened', 'opened'), ('printed', 'printed'), ('taken_out', 'exported'), ('changed', 'changed')], max_length=12)),
                ('page', models.CharField(max_length=60)),
                ('address', models.GenericIPAddressField(null=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('clinic', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to='accounts.clinic')),
            ],
            options={
                'indexes': [models.Index(fields=['clinic', '-at'], name='opened_newest'), models.Index(fields=['clinic', 'record', '-at'], name='opened_of_a_record')],
            },
        ),
        migrations.CreateModel(
            name='Unsaved',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('form', models.CharField(max_length=200)),
                ('fields', models.JSONField()),
                ('changed_at', models.DateTimeField(auto_now=True)),
                ('user', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='unsaved', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'constraints': [models.UniqueConstraint(fields=('user', 'form'), name='one_draft_a_form')],
            },
        ),
        migrations.RunSQL(LINES_ARE_KEPT, migrations.RunSQL.noop),
    ]
