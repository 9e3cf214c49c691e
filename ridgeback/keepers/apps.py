from django.apps import AppConfig


class KeepersConfig(AppConfig):
    name = "ridgeback.keepers"
