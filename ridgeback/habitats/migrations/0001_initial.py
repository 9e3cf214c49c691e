
import django.contrib.postgres.constraints
import django.contrib.postgres.fields.ranges
import django.db.models.deletion
from django.conf import settings
from django.contrib.postgres.operations import BtreeGistExtension
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True

    dependencies = [
        ('animals', '0001_initial'),
        ('keepers', '0001_initial'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        BtreeGistExtension(),  # the exclusion constraint compares a number inside a range index
        migrations.CreateModel(
            name='Habitat',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=80)),
                ('shelf', models.CharField(blank=True, max_length=80)),
                ('created_at', models.DateTimeField(auto_now_add=True)),
                ('household', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='habitats', to='keepers.household')),
                ('room', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='habitats', to='keepers.room')),
            ],
            options={
                'ordering': ['shelf', 'name'],
            },
        ),
        migrations.CreateModel(
            name='Revision',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('number', models.PositiveIntegerField()),
                ('spec', models.JSONField()),
                ('state', models.CharField(choices=[('planned', 'planned'), ('built', 'built')], default='built', max_length=7)),
                ('reason', models.CharField(blank=True, max_length=200)),
                ('made_at', models.DateTimeField()),
                ('habitat', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='revisions', to='habitats.habitat')),
                ('made_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('previous', models.ForeignKey(blank=True, null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to='habitats.revision')),
            ],
            options={
                'ordering': ['number'],
            },
        ),
        migrations.CreateModel(
            name='Reading',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('need', models.CharField(max_length=20)),
                ('value', models.FloatField()),
                ('offset', models.FloatField(default=0)),
                ('at', models.DateTimeField()),
                ('instrument', models.CharField(blank=True, max_length=80)),
                ('lamp_on_h', models.FloatField(blank=True, null=True)),
                ('habitat', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='readings', to='habitats.habitat')),
                ('taken_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('revision', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='readings', to='habitats.revision')),
            ],
            options={
                'ordering': ['-at', '-pk'],
            },
        ),
        migrations.AddField(
            model_name='habitat',
            name='head',
            field=models.OneToOneField(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to='habitats.revision'),
        ),
        migrations.CreateModel(
            name='Occupancy',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('since', models.DateTimeField()),
                ('until', models.DateTimeField(blank=True, null=True)),
                ('animal', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='occupancies', to='animals.animal')),
                ('habitat', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='occupancies', to='habitats.habitat')),
            ],
            options={
                'ordering': ['since'],
                'constraints': [models.CheckConstraint(condition=models.Q(('until__isnull', True), ('until__gt', models.F('since')), _connector='OR'), name='occupancy_ends_after_it_begins'), django.contrib.postgres.constraints.ExclusionConstraint(expressions=[('animal', '='), (models.Func('since', 'until', function='tstzrange', output_field=django.contrib.postgres.fields.ranges.DateTimeRangeField()), '&&')], name='occupancy_one_box_at_a_time')],
            },
        ),
        migrations.AddConstraint(
            model_name='revision',
            constraint=models.UniqueConstraint(fields=('habitat', 'number'), name='revision_number_once'),
        ),
        migrations.AddConstraint(
            model_name='revision',
            constraint=models.CheckConstraint(condition=models.Q(('state__in', ['planned', 'built'])), name='revision_state_known'),
        ),
        migrations.AddIndex(
            model_name='reading',
            index=models.Index(fields=['habitat', '-at'], name='reading_latest'),
        ),
        migrations.AddConstraint(
            model_name='reading',
            constraint=models.CheckConstraint(condition=models.Q(('need__in', ['surface_day', 'warm_air_day', 'cool_air_day', 'air_night', 'uvi_day', 'humidity_day', 'humidity_night'])), name='reading_need_known'),
        ),
        migrations.AddConstraint(
            model_name='reading',
            constraint=models.CheckConstraint(condition=models.Q(('lamp_on_h__isnull', True), ('lamp_on_h__gte', 0), _connector='OR'), name='reading_lamp_hours'),
        ),
        migrations.AddConstraint(
            model_name='habitat',
            constraint=models.UniqueConstraint(fields=('household', 'name'), name='habitat_name_once'),
        ),
    ]
