from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("classes", "0007_room")]

    operations = [
        migrations.AddField(
            "school",
            "paper",
            models.CharField(max_length=10, choices=[("a4", "A4"), ("letter", "Letter")], default="a4"),
        ),
    ]
