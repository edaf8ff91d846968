from django.conf import settings
from django.db import migrations, models
from django.db.models.deletion import CASCADE, SET_NULL


class Migration(migrations.Migration):
    dependencies = [
        ("labbooks", "0014_threads"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="LeftOut",
            fields=[
                (
                    "book",
                    models.OneToOneField(
                        on_delete=CASCADE, primary_key=True, related_name="left_out", serialize=False, to="labbooks.book"
                    ),
                ),
                ("reason", models.CharField(max_length=300)),
                ("at", models.DateTimeField(auto_now_add=True)),
                ("by", models.ForeignKey(null=True, on_delete=SET_NULL, related_name="+", to=settings.AUTH_USER_MODEL)),
            ],
            options={"db_table": "left_out"},
        ),
    ]
