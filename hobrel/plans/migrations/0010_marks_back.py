from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("plans", "0009_pool_opens")]

    operations = [
        migrations.AddField(model_name="practical", name="marks_back", field=models.DateTimeField(blank=True, null=True)),
    ]
