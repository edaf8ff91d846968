"""Summaries say what they say in another form since decision 28: they go, and are written anew at the first look."""

from typing import Any

from django.db import migrations


def leave_out_summaries(apps: Any, schema_editor: Any) -> None:
    apps.get_model("labbooks", "Summary").objects.all().delete()


class Migration(migrations.Migration):
    dependencies = [("labbooks", "0005_summaries")]
    operations = [migrations.RunPython(leave_out_summaries, migrations.RunPython.noop)]
