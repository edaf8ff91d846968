from django.conf import settings
from django.db import migrations, models
from django.db.models.deletion import CASCADE, SET_NULL


class Migration(migrations.Migration):
    initial = True

    dependencies = [
        ("reports", "0003_files_for_word_processors"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="Answer",
            fields=[
                (
                    "hand_in",
                    models.OneToOneField(
                        on_delete=CASCADE, primary_key=True, related_name="answer", serialize=False, to="reports.handin"
                    ),
                ),
                ("verdict", models.CharField(choices=[("returned", "Returned"), ("accepted", "Accepted")], max_length=8)),
                ("words", models.CharField(blank=True, max_length=2000)),
                ("at", models.DateTimeField(auto_now=True)),
                ("by", models.ForeignKey(null=True, on_delete=SET_NULL, related_name="+", to=settings.AUTH_USER_MODEL)),
            ],
            options={"db_table": "answer"},
        ),
        migrations.CreateModel(
            name="Mark",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("row", models.CharField(max_length=40)),
                ("level", models.PositiveSmallIntegerField(blank=True, null=True)),
                ("words", models.CharField(blank=True, max_length=600)),
                ("at", models.DateTimeField(auto_now=True)),
                ("by", models.ForeignKey(null=True, on_delete=SET_NULL, related_name="+", to=settings.AUTH_USER_MODEL)),
                ("hand_in", models.ForeignKey(on_delete=CASCADE, related_name="marks", to="reports.handin")),
            ],
            options={
                "db_table": "mark",
                "constraints": [models.UniqueConstraint(fields=("hand_in", "row"), name="each_row_marked_once")],
            },
        ),
    ]
