"""A stamp for each document."""

from django.db import migrations, models

import hobrel.labbooks.models


def give_stamps(apps, schema_editor):
    book = apps.get_model("labbooks", "Book")
    for key in book.objects.values_list("pk", flat=True):
        book.objects.filter(pk=key).update(stamp=hobrel.labbooks.models.new_stamp())


class Migration(migrations.Migration):
    dependencies = [("labbooks", "0002_kept_logs")]
    operations = [
        migrations.AddField("book", "stamp", models.CharField(default=hobrel.labbooks.models.new_stamp, max_length=32)),
        migrations.RunPython(give_stamps, migrations.RunPython.noop),
    ]
