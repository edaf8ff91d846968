"""Readings of the scales of rigs, for who reads to the mark only (decision 49)."""

from django.conf import settings
from django.db import migrations, models
from django.db.models.deletion import CASCADE


class Migration(migrations.Migration):
    dependencies = [("labbooks", "0016_more_is_shared"), migrations.swappable_dependency(settings.AUTH_USER_MODEL)]
    operations = [
        migrations.CreateModel(
            name="ScaleRead",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("off", models.FloatField()),
                ("at_mark", models.BooleanField()),
                ("book", models.ForeignKey(on_delete=CASCADE, related_name="scales_read", to="labbooks.book")),
                ("person", models.ForeignKey(on_delete=CASCADE, related_name="scales_read", to=settings.AUTH_USER_MODEL)),
            ],
            options={"db_table": "scale_read"},
        ),
    ]
