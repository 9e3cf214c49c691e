"""What the tests use."""

from ridgeback.settings.base import *  # noqa: F403

SECRET_KEY = "only-for-tests"
DEBUG = False
MFA_WEBAUTHN_ALLOW_INSECURE_ORIGIN = True
ALLOWED_HOSTS = ["*"]
RIDGEBACK_DEMO = True
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.InMemoryStorage"},
    "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"},
}
WHITENOISE_AUTOREFRESH = True
WHITENOISE_USE_FINDERS = True
