
import django.contrib.auth.models
import django.contrib.auth.validators
import django.db.models.deletion
import django.utils.timezone
import ridgeback.keepers.models
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True

    dependencies = [
        ('auth', '0012_alter_user_first_name_max_length'),
    ]

    operations = [
        migrations.CreateModel(
            name='Keeper',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('password', models.CharField(max_length=128, verbose_name='password')),
                ('last_login', models.DateTimeField(blank=True, null=True, verbose_name='last login')),
                ('is_superuser', models.BooleanField(default=False, help_text='Designates that this user has all permissions without explicitly assigning them.', verbose_name='superuser status')),
                ('username', models.CharField(error_messages={'unique': 'A user with that username already exists.'}, help_text='Required. 150 characters or fewer. Letters, digits and @/./+/-/_ only.', max_length=150, unique=True, validators=[django.contrib.auth.validators.UnicodeUsernameValidator()], verbose_name='username')),
                ('first_name', models.CharField(blank=True, max_length=150, verbose_name='first name')),
                ('last_name', models.CharField(blank=True, max_length=150, verbose_name='last name')),
                ('email', models.EmailField(blank=True, max_length=254, verbose_name='email address')),
                ('is_staff', models.BooleanField(default=False, help_text='Designates whether the user can log into this admin site.', verbose_name='staff status')),
                ('is_active', models.BooleanField(default=True, help_text='Designates whether this user should be treated as active. Unselect this instead of deleting accounts.', verbose_name='active')),
                ('date_joined', models.DateTimeField(default=django.utils.timezone.now, verbose_name='date joined')),
                ('units_system', models.CharField(choices=[('metric', 'cm'), ('us', 'in')], default='metric', max_length=6)),
                ('units_temperature', models.CharField(choices=[('c', '°C'), ('f', '°F')], default='c', max_length=1)),
                ('theme', models.CharField(choices=[('system', 'as the device'), ('light', 'light'), ('dark', 'dark')], default='system', max_length=6)),
                ('groups', models.ManyToManyField(blank=True, help_text='The groups this user belongs to. A user will get all permissions granted to each of their groups.', related_name='user_set', related_query_name='user', to='auth.group', verbose_name='groups')),
                ('user_permissions', models.ManyToManyField(blank=True, help_text='Specific permissions for this user.', related_name='user_set', related_query_name='user', to='auth.permission', verbose_name='user permissions')),
            ],
            options={
                'required_db_vendor': 'postgresql',
            },
            managers=[
                ('objects', django.contrib.auth.models.UserManager()),
            ],
        ),
        migrations.CreateModel(
            name='Household',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=80)),
                ('demo_day', models.DateField(blank=True, null=True)),
                ('created_at', models.DateTimeField(auto_now_add=True)),
            ],
            options={
                'constraints': [models.UniqueConstraint(models.Value(1), condition=models.Q(('demo_day__isnull', False)), name='household_one_demo')],
            },
        ),
        migrations.CreateModel(
            name='Membership',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('role', models.CharField(choices=[('owner', 'owner'), ('keeper', 'keeper'), ('sitter', 'sitter'), ('viewer', 'viewer')], default='owner', max_length=6)),
                ('household', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='memberships', to='keepers.household')),
                ('keeper', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='memberships', to=settings.AUTH_USER_MODEL)),
            ],
        ),
        migrations.CreateModel(
            name='Room',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=80)),
                ('latitude_deg', models.FloatField(default=0)),
                ('longitude_deg', models.FloatField(default=0)),
                ('time_zone', models.CharField(default='UTC', max_length=64, validators=[ridgeback.keepers.models.valid_zone])),
                ('day_c', models.FloatField()),
                ('night_c', models.FloatField()),
                ('summer_max_c', models.FloatField()),
                ('rh_pct', models.FloatField()),
                ('household', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='rooms', to='keepers.household')),
            ],
            options={
                'ordering': ['name'],
            },
        ),
        migrations.AddConstraint(
            model_name='keeper',
            constraint=models.CheckConstraint(condition=models.Q(('units_system__in', ['metric', 'us'])), name='keeper_units_system_known'),
        ),
        migrations.AddConstraint(
            model_name='keeper',
            constraint=models.CheckConstraint(condition=models.Q(('units_temperature__in', ['c', 'f'])), name='keeper_units_temperature_known'),
        ),
        migrations.AddConstraint(
            model_name='keeper',
            constraint=models.CheckConstraint(condition=models.Q(('theme__in', ['system', 'light', 'dark'])), name='keeper_theme_known'),
        ),
        migrations.AddConstraint(
            model_name='membership',
            constraint=models.UniqueConstraint(fields=('household', 'keeper'), name='membership_once'),
        ),
        migrations.AddConstraint(
            model_name='membership',
            constraint=models.CheckConstraint(condition=models.Q(('role__in', ['owner', 'keeper', 'sitter', 'viewer'])), name='membership_role_known'),
        ),
        migrations.AddConstraint(
            model_name='room',
            constraint=models.UniqueConstraint(fields=('household', 'name'), name='room_name_once'),
        ),
        migrations.AddConstraint(
            model_name='room',
            constraint=models.CheckConstraint(condition=models.Q(('rh_pct__gte', 0), ('rh_pct__lte', 100)), name='room_rh_in_percent'),
        ),
        migrations.AddConstraint(
            model_name='room',
            constraint=models.CheckConstraint(condition=models.Q(('day_c__gte', -10), ('day_c__lte', 50), ('night_c__gte', -10), ('night_c__lte', 50), ('summer_max_c__gte', -10), ('summer_max_c__lte', 55)), name='room_air_possible'),
        ),
        migrations.AddConstraint(
            model_name='room',
            constraint=models.CheckConstraint(condition=models.Q(('latitude_deg__gte', -90), ('latitude_deg__lte', 90)), name='room_latitude'),
        ),
    ]
