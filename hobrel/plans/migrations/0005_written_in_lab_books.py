import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('plans', '0004_versions'),
        ('labbooks', '0010_written_in_lab_books'),
    ]

    operations = [
        migrations.AlterModelOptions(name='plan', options={}),
        *(migrations.RemoveField(model_name='plan', name=name) for name in ('title', 'document', 'prompts')),
        *(migrations.RemoveField(model_name='practical', name=name) for name in ('plan', 'document', 'prompts')),
        migrations.AlterField(
            model_name='practical',
            name='version',
            field=models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='practicals', to='plans.planversion'),
        ),
    ]
