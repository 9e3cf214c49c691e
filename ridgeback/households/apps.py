from django.apps import AppConfig


class HouseholdsConfig(AppConfig):
    name = "ridgeback.households"
