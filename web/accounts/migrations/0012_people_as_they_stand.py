"""How each account stands, so that its next change has something before it."""

from django.db import migrations

KEPT = (
    "id", "username", "first_name", "last_name", "email", "is_active", "is_staff", "is_superuser",
    "role", "clinic_id",
)  # fmt: skip


def forwards(apps, _):
    users, versions = (apps.get_model("accounts", name) for name in ("User", "HistoricalUser"))
    versions.objects.bulk_create(
        (
            versions(
                history_type="+",
                history_date=user.date_joined,
                **{name: getattr(user, name) for name in KEPT},
            )
            for user in users.objects.iterator()
        ),
        batch_size=1000,
    )


class Migration(migrations.Migration):
    dependencies = [("accounts", "0011_helpers_auditors_history")]
    operations = [migrations.RunPython(forwards, migrations.RunPython.noop)]
