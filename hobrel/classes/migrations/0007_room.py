from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("classes", "0006_class_life")]

    operations = [
        migrations.AddField(model_name="schoolclass", name="room", field=models.JSONField(blank=True, default=dict)),
    ]
