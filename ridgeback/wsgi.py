"""The entry for a WSGI server."""

import os

from django.core.wsgi import get_wsgi_application

import husbandry  # noqa: F401  # asks for one BLAS thread before anything imports numpy

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "ridgeback.settings.production")
application = get_wsgi_application()
