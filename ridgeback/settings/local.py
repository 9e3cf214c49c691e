"""What `./start` uses: this machine, plain HTTP on the address it was given, a secret made once."""

import secrets

from ridgeback.settings.base import *  # noqa: F403
from ridgeback.settings.base import LOGGING, STATE, env


def _secret() -> str:
    """From the environment, else made once and kept beside the database, readable by its owner
    alone.
    """
    given = env("SECRET_KEY", default="")
    if given:
        return str(given)
    file = STATE / "secret"
    STATE.mkdir(parents=True, exist_ok=True)
    if not file.exists():
        file.touch(mode=0o600)
        file.write_text(secrets.token_urlsafe(50))
    return file.read_text()


SECRET_KEY = _secret()
DEBUG = False
MFA_WEBAUTHN_ALLOW_INSECURE_ORIGIN = True  # browsers allow passkeys on http://localhost
LOGGING["loggers"]["ridgeback"]["level"] = env("REQUEST_LOG_LEVEL", default="WARNING")  # type: ignore[index]  # the screen stays quiet
# No mail leaves this machine: each message is a file here.
EMAIL_BACKEND = "django.core.mail.backends.filebased.EmailBackend"
EMAIL_FILE_PATH = STATE / "mail"
_host = env("RIDGEBACK_HOST", default="127.0.0.1")
# Listening on every address means being reached under names that nobody can list beforehand.
ALLOWED_HOSTS = ["*"] if _host in {"0.0.0.0", "::"} else ["127.0.0.1", "localhost", "[::1]", _host]
