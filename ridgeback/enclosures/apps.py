from django.apps import AppConfig


class EnclosuresConfig(AppConfig):
    name = "ridgeback.enclosures"
