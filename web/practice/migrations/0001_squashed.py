"""Device keys and shared tablets: the tables as they stood when the steps before were put together."""

import django.db.models.deletion
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
    ]

    dependencies = [
        ('accounts', '0001_squashed'),
        ('clients', '0001_squashed'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='DeviceKey',
            fields=[
                ('client', models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, primary_key=True, related_name='device_key', serialize=False, to='clients.client')),
                ('private', models.BinaryField()),
                ('made_at', models.DateTimeField(default=web.ui.times.moment)),
            ],
        ),
        migrations.CreateModel(
            name='Tablet',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(help_text='For example “group room”.', max_length=80, verbose_name='location')),
                ('made_at', models.DateTimeField(auto_now_add=True)),
                ('ended_at', models.DateTimeField(null=True)),
                ('clients', models.ManyToManyField(blank=True, related_name='tablets', to='clients.client')),
                ('clinic', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='tablets', to='accounts.clinic')),
                ('made_by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['name', 'pk'],
            },
        ),
    ]
