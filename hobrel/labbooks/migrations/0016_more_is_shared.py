"""Benches bring more to their class since decision 47: what is kept of them goes, and is written anew at the first look."""

from typing import Any

from django.db import migrations


def leave_out_summaries(apps: Any, schema_editor: Any) -> None:
    apps.get_model("labbooks", "Summary").objects.all().delete()


class Migration(migrations.Migration):
    dependencies = [("labbooks", "0015_left_out")]
    operations = [migrations.RunPython(leave_out_summaries, migrations.RunPython.noop)]
