from django.apps import AppConfig


class OperationsConfig(AppConfig):
    name = "ridgeback.operations"

    def ready(self) -> None:
        """Listen to what happens to accounts."""
        from ridgeback.operations import security_log  # it needs the accounts packages loaded

        security_log.begin()
