"""The entry for a WSGI server."""

import os

from django.core.wsgi import get_wsgi_application
from django.urls import get_resolver

import husbandry  # noqa: F401  # asks for one BLAS thread before anything imports numpy
from husbandry.species.library import library

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "ridgeback.settings.production")
application = get_wsgi_application()
# What every page needs is loaded before the first is asked for.
_URLS, _PROFILES = get_resolver().url_patterns, library()
