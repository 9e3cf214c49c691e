from django.apps import AppConfig


class LibraryConfig(AppConfig):
    name = "ridgeback.species_guide"
