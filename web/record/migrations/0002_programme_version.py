"""The model of one version of a programme is named after what it is; its table stays."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("record", "0001_squashed"), ("contenttypes", "0002_remove_content_type_name")]

    operations = [migrations.RenameModel("Programme", "ProgrammeVersion")]
