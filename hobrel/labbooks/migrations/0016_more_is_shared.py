"""Benches bring more to their class since decision 47: what is kept of them goes, and is written anew at the first look. And slips that
were seen are noted (decision 48).
"""

from typing import Any

from django.db import migrations, models
from django.db.models.deletion import CASCADE


def leave_out_summaries(apps: Any, schema_editor: Any) -> None:
    apps.get_model("labbooks", "Summary").objects.all().delete()


class Migration(migrations.Migration):
    dependencies = [("labbooks", "0015_left_out")]
    operations = [
        migrations.RunPython(leave_out_summaries, migrations.RunPython.noop),
        migrations.CreateModel(
            name="SlipSeen",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("kind", models.CharField(max_length=40)),
                ("of", models.CharField(blank=True, max_length=80)),
                ("book", models.ForeignKey(on_delete=CASCADE, related_name="slips_seen", to="labbooks.book")),
            ],
            options={
                "db_table": "slip_seen",
                "constraints": [models.UniqueConstraint(fields=("book", "kind", "of"), name="each_slip_seen_once")],
            },
        ),
    ]
