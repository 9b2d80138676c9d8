"""Record the sessions that existed before sessions were recorded for each user."""

from datetime import UTC, datetime
from importlib import import_module
from ipaddress import ip_address

from django.conf import settings
from django.contrib.auth import SESSION_KEY
from django.db import migrations
from django.utils import timezone


def list_sessions(apps, schema_editor):
    sessions = apps.get_model("sessions", "Session")
    listed = apps.get_model("usersessions", "UserSession")
    people = set(apps.get_model("accounts", "User").objects.values_list("pk", flat=True))
    decode = import_module(settings.SESSION_ENGINE).SessionStore().decode
    length = listed._meta.get_field("user_agent").max_length
    now = timezone.now()
    for each in sessions.objects.filter(expire_date__gt=now).iterator():
        kept = decode(each.session_data)
        who = int(kept.get(SESSION_KEY) or 0)
        if who not in people:
            continue
        begun = kept.get("begun") or {}
        listed.objects.get_or_create(
            session_key=each.session_key,
            defaults={
                "user_id": who,
                "ip": _address(begun.get("address")),
                "user_agent": begun.get("device", "")[:length],
                "created_at": _time(begun.get("at")) or now,
                "last_seen_at": _time(kept.get("seen")) or _time(begun.get("at")) or now,
            },
        )


def _address(text):
    try:
        return str(ip_address(text))
    except ValueError:
        return "::"  # The address was not stored or is not valid.


def _time(stamp):
    return datetime.fromtimestamp(stamp, UTC) if isinstance(stamp, int | float) else None


class Migration(migrations.Migration):

    dependencies = [
        ("accounts", "0001_squashed"),
        ("sessions", "0001_initial"),
        ("usersessions", "0001_initial"),
    ]
    operations = [migrations.RunPython(list_sessions, migrations.RunPython.noop)]
