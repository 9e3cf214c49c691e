from django.apps import AppConfig


class HabitatsConfig(AppConfig):
    name = "ridgeback.habitats"
