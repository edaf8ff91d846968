import django.db.models.deletion
import django.utils.timezone
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('plans', '0003_own_books'),
    ]

    operations = [
        migrations.CreateModel(
            name='PlanVersion',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('number', models.PositiveIntegerField()),
                ('document', models.JSONField()),
                ('made', models.DateTimeField(default=django.utils.timezone.now)),
                ('plan', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='versions', to='plans.plan')),
            ],
            options={
                'db_table': 'plan_version',
                'ordering': ['-number'],
                'constraints': [models.UniqueConstraint(fields=('plan', 'number'), name='each_version_once')],
            },
        ),
        migrations.AddField(
            model_name='practical',
            name='version',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='practicals', to='plans.planversion'),
        ),
    ]
