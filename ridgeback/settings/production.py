"""What a public installation uses: everything secret or particular comes from the environment."""

from ridgeback.settings.base import *  # noqa: F403
from ridgeback.settings.base import env
from ridgeback.settings.secret import required_secret

SECRET_KEY = required_secret(env("SECRET_KEY", default=""))
DEBUG = False
vars().update(env.email("EMAIL_URL", default="smtp://localhost:25"))
ALLOWED_HOSTS = env.list("ALLOWED_HOSTS")
CSRF_TRUSTED_ORIGINS = env.list("CSRF_TRUSTED_ORIGINS", default=[])
SECURE_SSL_REDIRECT = True
SECURE_REDIRECT_EXEMPT = [r"^health/"]  # a probe asks the process itself, without TLS
# Dropped by TrustedProxies where the peer is not one of TRUSTED_PROXIES.
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
SECURE_HSTS_SECONDS = 31_536_000
SECURE_HSTS_INCLUDE_SUBDOMAINS = True
SECURE_HSTS_PRELOAD = True
SESSION_COOKIE_SECURE = True
CSRF_COOKIE_SECURE = True
