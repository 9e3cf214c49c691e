"""Django's command line: `python -m ridgeback.manage COMMAND`."""

import os
import sys

import husbandry  # noqa: F401  # asks for one BLAS thread before anything imports numpy


def main() -> None:
    """Run one management command."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "ridgeback.settings.local")
    from django.core.management import execute_from_command_line

    execute_from_command_line(sys.argv)


if __name__ == "__main__":
    main()
