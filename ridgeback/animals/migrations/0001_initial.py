
import django.db.models.deletion
import ridgeback.animals.models
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True

    dependencies = [
        ('keepers', '0001_initial'),
    ]

    operations = [
        migrations.CreateModel(
            name='Animal',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=80)),
                ('species', models.CharField(max_length=80, validators=[ridgeback.animals.models.known_species])),
                ('sex', models.CharField(choices=[('female', 'female'), ('male', 'male'), ('unknown', 'unknown')], default='unknown', max_length=7)),
                ('born_on', models.DateField(blank=True, null=True)),
                ('fed_on', models.DateField(blank=True, help_text='a day on which it was fed; intervals count from there', null=True)),
                ('schools', models.JSONField(blank=True, default=dict)),
                ('household', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='animals', to='keepers.household')),
            ],
            options={
                'ordering': ['name'],
            },
        ),
        migrations.CreateModel(
            name='Length',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('on', models.DateField()),
                ('kind', models.CharField(choices=[('total', 'total length'), ('snout_vent', 'snout to vent'), ('shell', 'shell')], max_length=10)),
                ('length_mm', models.FloatField()),
                ('animal', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='lengths', to='animals.animal')),
            ],
            options={
                'ordering': ['on', 'pk'],
            },
        ),
        migrations.CreateModel(
            name='Weighing',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('on', models.DateField()),
                ('mass_g', models.FloatField()),
                ('animal', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='weighings', to='animals.animal')),
            ],
            options={
                'ordering': ['on', 'pk'],
            },
        ),
        migrations.AddConstraint(
            model_name='animal',
            constraint=models.CheckConstraint(condition=models.Q(('sex__in', ['female', 'male', 'unknown'])), name='animal_sex_known'),
        ),
        migrations.AddIndex(
            model_name='length',
            index=models.Index(fields=['animal', '-on'], name='length_latest'),
        ),
        migrations.AddConstraint(
            model_name='length',
            constraint=models.CheckConstraint(condition=models.Q(('length_mm__gt', 0), ('length_mm__lte', 15000)), name='length_positive'),
        ),
        migrations.AddIndex(
            model_name='weighing',
            index=models.Index(fields=['animal', '-on'], name='weighing_latest'),
        ),
        migrations.AddConstraint(
            model_name='weighing',
            constraint=models.CheckConstraint(condition=models.Q(('mass_g__gt', 0), ('mass_g__lte', 500000)), name='weighing_mass_positive'),
        ),
    ]
