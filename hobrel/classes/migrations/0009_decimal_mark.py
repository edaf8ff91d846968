from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("classes", "0008_paper")]

    operations = [
        migrations.AddField(
            "schoolclass",
            "decimal_mark",
            models.CharField(
                blank=True, choices=[("", "as each plan has it"), ("point", "Point"), ("comma", "Comma")], default="", max_length=5
            ),
        ),
    ]
