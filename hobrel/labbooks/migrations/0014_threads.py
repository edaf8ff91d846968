from django.conf import settings
from django.db import migrations, models
from django.db.models.deletion import CASCADE, SET_NULL


class Migration(migrations.Migration):
    dependencies = [
        ("labbooks", "0013_hands"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField(model_name="remark", name="place", field=models.JSONField(null=True)),
        migrations.AddField(model_name="remark", name="was", field=models.TextField(blank=True, default="")),
        migrations.AddField(model_name="remark", name="done", field=models.BooleanField(default=False)),
        migrations.CreateModel(
            name="Reply",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("by_teacher", models.BooleanField()),
                ("text", models.TextField(max_length=2000)),
                ("at", models.DateTimeField(auto_now_add=True)),
                ("author", models.ForeignKey(null=True, on_delete=SET_NULL, related_name="+", to=settings.AUTH_USER_MODEL)),
                ("remark", models.ForeignKey(on_delete=CASCADE, related_name="replies", to="labbooks.remark")),
            ],
            options={"db_table": "reply", "ordering": ["pk"]},
        ),
    ]
