"""The model of a note says what kind of note it is, beside the notes that are sung; its table
stays."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("notes", "0001_squashed"), ("contenttypes", "0002_remove_content_type_name")]

    operations = [
        migrations.AlterModelTable("note", "notes_note"),
        migrations.RenameModel("Note", "ClinicalNote"),
        migrations.AlterModelTable("historicalnote", "notes_historicalnote"),
        migrations.RenameModel("HistoricalNote", "HistoricalClinicalNote"),
        migrations.AlterModelOptions(
            "historicalclinicalnote",
            {
                "get_latest_by": ("history_date", "history_id"),
                "ordering": ("-history_date", "-history_id"),
                "verbose_name": "historical clinical note",
                "verbose_name_plural": "historical clinical notes",
            },
        ),
    ]
