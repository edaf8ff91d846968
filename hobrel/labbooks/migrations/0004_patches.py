"""The history keeps patches. That of the demo's books so far, the only ones there are, begins anew."""

from django.db import migrations, models


def forget_history(apps, schema_editor):
    apps.get_model("labbooks", "EditRecord").objects.all().delete()


class Migration(migrations.Migration):
    dependencies = [("labbooks", "0003_stamp")]
    operations = [
        migrations.RunPython(forget_history, migrations.RunPython.noop),
        migrations.RemoveField("editrecord", "inverse"),
        migrations.AddField("editrecord", "patches", models.JSONField(default=list)),
    ]
