"""What every installation shares. Secrets, hosts and the database come from the environment."""

from pathlib import Path

import allauth
import environ
from csp.constants import NONE, SELF

env = environ.Env()
ROOT = Path(__file__).resolve().parents[2]
STATE = Path(env("RIDGEBACK_STATE", default=str(ROOT / ".state")))

INSTALLED_APPS = [
    "ridgeback.households",
    "ridgeback.animals",
    "ridgeback.enclosures",
    "ridgeback.species_guide",
    "ridgeback.drafts",
    "ridgeback.submissions",
    "ridgeback.first_setup",
    "ridgeback.calculators",
    "ridgeback.jobs",
    "ridgeback.log",
    "ridgeback.tasks",
    "ridgeback.today",
    "ridgeback.seasons",
    "ridgeback.supplies",
    "ridgeback.treatments",
    "ridgeback.breeding",
    "ridgeback.photos",
    "ridgeback.people",
    "ridgeback.papers",
    "ridgeback.permits",
    "ridgeback.pens",
    "ridgeback.records",
    "ridgeback.devices",
    "ridgeback.alarms",
    "ridgeback.instruments",
    "ridgeback.reviews",
    "ridgeback.practice",
    "ridgeback.digests",
    "ridgeback.archive",
    "ridgeback.operations",
    "ridgeback.demo",
    "django.contrib.postgres",
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "whitenoise.runserver_nostatic",
    "django.contrib.staticfiles",
    "csp",
    "django_htmx",
    "allauth",
    "allauth.account",
    "allauth.mfa",
    "allauth.usersessions",
    "procrastinate.contrib.django",
]
MIDDLEWARE = [
    "ridgeback.households.proxies.TrustedProxies",
    "ridgeback.operations.logs.RequestLog",
    "django.middleware.security.SecurityMiddleware",
    "ridgeback.operations.caching.NoStore",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.contrib.auth.middleware.LoginRequiredMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "django_htmx.middleware.HtmxMiddleware",
    "allauth.account.middleware.AccountMiddleware",
    "allauth.usersessions.middleware.UserSessionsMiddleware",
    "ridgeback.households.middleware.HouseholdMiddleware",
    "ridgeback.operations.uncalculated.UncalculatedPage",
]
ROOT_URLCONF = "ridgeback.urls"
WSGI_APPLICATION = "ridgeback.wsgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "DIRS": [ROOT / "ridgeback" / "templates"],
        "OPTIONS": {
            "loaders": [
                (
                    "django.template.loaders.cached.Loader",
                    [
                        "ridgeback.operations.compact_templates.Loader",
                        "django.template.loaders.app_directories.Loader",
                    ],
                )
            ],
            "libraries": {"terms": "ridgeback.help.templatetags.terms"},
            "builtins": ["ridgeback.help.templatetags.terms"],
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
                "ridgeback.households.context.reader",
                "ridgeback.alarms.context.going",
                "ridgeback.pens.context.outside",
            ],
        },
    }
]

DATABASES = {
    "default": {
        **env.db("DATABASE_URL", default="postgresql://ridgeback@127.0.0.1:5433/ridgeback"),
        "CONN_MAX_AGE": 60,
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTH_USER_MODEL = "households.Keeper"
AUTHENTICATION_BACKENDS = ["allauth.account.auth_backends.AuthenticationBackend"]
LOGIN_URL = "account_login"
LOGIN_REDIRECT_URL = "enclosures:list"
LOGOUT_REDIRECT_URL = "account_login"
ACCOUNT_LOGIN_METHODS = {"email"}
ACCOUNT_SIGNUP_FIELDS = ["email*", "password1*"]
ACCOUNT_SIGNUP_FORM_CLASS = "ridgeback.households.forms.HouseholdSignUp"
ACCOUNT_SIGNUP_REDIRECT_URL = "collection:choose"
# Nobody is kept out until an address is confirmed, but no daily email goes to one that is not.
ACCOUNT_EMAIL_VERIFICATION = "optional"
# Sign-up answers alike whether an address is known or not; several accounts may ask for one
# address, and whoever reads its mail confirms it for one of them.
ACCOUNT_PREVENT_ENUMERATION = "strict"
ACCOUNT_LOGIN_ON_PASSWORD_RESET = True
# One address: another takes its place once its link was opened.
ACCOUNT_CHANGE_EMAIL = True
# Whoever changes it is asked for the password, and what was typed goes on after it.
ACCOUNT_REAUTHENTICATION_REQUIRED = True
# What changes how somebody signs in is told to their address.
ACCOUNT_EMAIL_NOTIFICATIONS = True
MFA_SUPPORTED_TYPES = ["totp", "recovery_codes", "webauthn"]
MFA_PASSKEY_LOGIN_ENABLED = True
MFA_ADAPTER = "ridgeback.households.adapter.SecondStepAdapter"
MFA_TOTP_ISSUER = "Ridgeback"
ACCOUNT_SESSION_REMEMBER = True
ACCOUNT_EMAIL_SUBJECT_PREFIX = "Ridgeback: "
ACCOUNT_ADAPTER = "ridgeback.households.adapter.AccountAdapter"
# Limits on guessing and flooding are counted in the database, so that every web process counts
# alike.
# Wrong passwords for one address slow down their source alone: ridgeback/households/slow_down.py.
ACCOUNT_RATE_LIMITS = {
    "login_failed": "30/m/ip",
    "signup": "20/h/ip",
    "reset_password": "20/h/ip,5/h/key",
    "confirm_email": "1/3m/key",
    "open_demo": "30/h/ip",
}
# Addresses or networks of this installation's own proxies; only they are believed.
TRUSTED_PROXIES = env.list("TRUSTED_PROXIES", default=[])
CACHES = {
    "default": {
        "BACKEND": "django.core.cache.backends.db.DatabaseCache",
        "LOCATION": "short_memory",
    }
}
PICTURES_STORE = env("PICTURES_STORE", default="")
SAMPLES_KEPT_MONTHS = env.int("SAMPLES_KEPT_MONTHS", default=0)
"""Whole months of single samples that are kept; 0 keeps all. Sums by the hour always stay."""
METRICS_TOKEN = env("METRICS_TOKEN", default="")
"""Opens /metrics; without one there is no such page."""
RIDGEBACK_ADDRESS = env("RIDGEBACK_ADDRESS", default="http://127.0.0.1:8000").rstrip("/")
"""Where people reach it: mails of a worker lead there."""
DEFAULT_FROM_EMAIL = env("MAIL_FROM", default="ridgeback@localhost")
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
    {
        "NAME": "django.contrib.auth.password_validation.MinimumLengthValidator",
        "OPTIONS": {"min_length": 12},
    },
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
    {"NAME": "django.contrib.auth.password_validation.NumericPasswordValidator"},
]

LANGUAGE_CODE = "en-gb"
TIME_ZONE = "UTC"
USE_I18N = False
USE_TZ = True

STATIC_URL = "/static/"
STATIC_ROOT = STATE / "static"
_ALLAUTH = Path(allauth.__file__).parent
STATICFILES_DIRS = [
    ROOT / "ridgeback" / "static",
    ("mfa", _ALLAUTH / "mfa" / "static" / "mfa"),  # passkeys speak to the browser by its scripts
    ("account", _ALLAUTH / "account" / "static" / "account"),
]
# Our own files and those alone: what packages bring for their own pages is not shipped.
STATICFILES_FINDERS = ["django.contrib.staticfiles.finders.FileSystemFinder"]
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "ridgeback.operations.static_files.HashedStaticFiles"},
}

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF],
        "img-src": [SELF, "data:"],
        "font-src": [SELF],
        "connect-src": [SELF],
        "form-action": [SELF],
        "base-uri": [NONE],
        "frame-ancestors": [NONE],
    }
}
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
SESSION_COOKIE_SAMESITE = "Lax"
MESSAGE_STORAGE = "django.contrib.messages.storage.session.SessionStorage"
DATA_UPLOAD_MAX_MEMORY_SIZE = 1_000_000
ACCOUNT_EMAIL_CONFIRMATION_EXPIRE_DAYS = 7
FILE_UPLOAD_HANDLERS = ["ridgeback.exchange.uploads.BoundedUpload"]
DATA_UPLOAD_MAX_NUMBER_FIELDS = 1000

# The demo is offered only where it was asked for by name. Each visitor gets a household of one's
# own, deleted after a day; so many at most at a time.
RIDGEBACK_DEMO = env.bool("RIDGEBACK_DEMO", default=False)
RIDGEBACK_DEMO_MOST = env.int("RIDGEBACK_DEMO_MOST", default=200)

# One line of JSON an event, on standard error. Requests are told by their route; nobody's data is
# in them.
LOG_LEVEL = env("LOG_LEVEL", default="WARNING")
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "filters": {"without_data": {"()": "ridgeback.operations.logs.WithoutData"}},
    "formatters": {
        "json": {
            "()": "pythonjsonlogger.json.JsonFormatter",
            "format": "{asctime} {levelname} {name} {message}",
            "style": "{",
        }
    },
    "handlers": {
        "stderr": {
            "class": "logging.StreamHandler",
            "formatter": "json",
            "filters": ["without_data"],
        }
    },
    "root": {"handlers": ["stderr"], "level": LOG_LEVEL},
    "loggers": {
        "django": {"handlers": [], "level": "INFO"},
        "ridgeback": {"level": env("REQUEST_LOG_LEVEL", default="INFO")},
    },
}
