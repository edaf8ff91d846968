from django.conf import settings
from django.db import migrations, models
from django.db.models.deletion import CASCADE, SET_NULL


def ask_anew(apps, schema_editor):
    """Summaries hold more than they did: each is made again at the next look."""
    apps.get_model("labbooks", "Summary").objects.update(stamp="")


class Migration(migrations.Migration):
    dependencies = [
        ("labbooks", "0012_opened_stages"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="Hand",
            fields=[
                (
                    "book",
                    models.OneToOneField(
                        on_delete=CASCADE, primary_key=True, related_name="hand", serialize=False, to="labbooks.book"
                    ),
                ),
                ("at", models.DateTimeField(auto_now_add=True)),
                ("by", models.ForeignKey(null=True, on_delete=SET_NULL, related_name="+", to=settings.AUTH_USER_MODEL)),
            ],
            options={"db_table": "hand"},
        ),
        migrations.RunPython(ask_anew, migrations.RunPython.noop),
    ]
