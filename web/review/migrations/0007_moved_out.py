"""The tables belong to the apps that were made of this one; nothing of the data is touched."""

from django.db import migrations

MODELS = (
    "Addendum",
    "Decision",
    "Digest",
    "HistoricalNote",
    "HistoricalRuleSettings",
    "Message",
    "Note",
    "RuleSettings",
    "Standing",
)


class Migration(migrations.Migration):
    dependencies = [
        ("review", "0006_decisions_remember"),
        ("decisions", "0001_from_review"),
        ("notes", "0001_from_review"),
        ("client_messages", "0001_from_review"),
        ("scheduled", "0001_from_review"),
    ]
    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[migrations.DeleteModel(name) for name in MODELS]
        )
    ]
