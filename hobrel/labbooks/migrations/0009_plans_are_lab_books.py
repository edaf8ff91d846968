import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('labbooks', '0008_who_has_left'),
        ('plans', '0004_versions'),
    ]

    operations = [
        migrations.AddField(
            model_name='book',
            name='plan',
            field=models.OneToOneField(blank=True, null=True, on_delete=django.db.models.deletion.CASCADE, related_name='book', to='plans.plan'),
        ),
        migrations.RemoveConstraint(model_name='book', name='of_a_bench_or_of_somebody'),
        migrations.AddConstraint(
            model_name='book',
            constraint=models.CheckConstraint(condition=models.Q(models.Q(('bench__isnull', False), ('owner', None), ('plan', None), ('practical__isnull', False)), models.Q(('bench', None), ('owner__isnull', False), ('practical', None)), _connector='OR'), name='of_a_bench_or_of_somebody'),
        ),
    ]
