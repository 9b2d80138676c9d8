"""Common settings. The modules demo, test and production override them."""

import re
import warnings
from pathlib import Path

import environ
from csp.constants import NONE, SELF
from django.core.exceptions import ImproperlyConfigured

ROOT = Path(__file__).resolve().parents[3]
LOCAL = ROOT / ".local"

env = environ.Env()
# Written by bin/postgres; the environment's DATABASE_URL takes precedence.
if (LOCAL / "database.env").exists():
    env.read_env(LOCAL / "database.env")

# A cache in each process for values that are costly to compute; nothing depends on it.
CACHES = {
    "default": {
        "BACKEND": "django.core.cache.backends.locmem.LocMemCache",
        "OPTIONS": {"MAX_ENTRIES": 5000},
    }
}
DATABASES = {"default": env.db("DATABASE_URL", default="postgres://127.0.0.1/still_reed")}
# A new connection costs PostgreSQL a process, and a composer edit a fifth of its time. Connections
# are checked before use, and a request waits at most two seconds for one.
DATABASES["default"].setdefault("OPTIONS", {}).update(
    pool={"min_size": 1, "max_size": 16, "timeout": 2.0},
    connect_timeout=2,
    # Do not wait for the kernel's timeout when the server stops answering.
    tcp_user_timeout=5000,
    keepalives_idle=10,
)
DATABASES["default"]["CONN_HEALTH_CHECKS"] = True
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "django.contrib.staticfiles",
    "axes",
    "csp",
    "simple_history",
    "procrastinate.contrib.django",
    "web.ui",
    "web.keeping",
    "web.accounts",
    "web.sound",
    "web.clients",
    "web.screening",
    "web.baseline",
    "web.calculators",
    "web.catalogue",
    "web.record",
    "web.clinic",
    "web.programmes",
    "web.practice",
    "web.intake",
    "web.messages",
    "web.decisions",
    "web.results",
    "web.notes",
    "web.exports",
    "web.scheduled",
    # After the product's own apps, whose templates override these.
    "allauth",
    "allauth.account",
    "allauth.mfa",
    "allauth.usersessions",
]

MIDDLEWARE = [
    "web.config.health.MetricsMiddleware",
    "django.middleware.security.SecurityMiddleware",
    "web.ui.headers.DeviceHeadersMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "web.accounts.middleware.AnonymousBodyMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "allauth.account.middleware.AccountMiddleware",
    "web.accounts.sessions.IdleMiddleware",
    "web.accounts.second.required_methods.SecondStepMiddleware",
    "web.accounts.middleware.NoStoreMiddleware",
    "web.accounts.middleware.ClinicTimeZoneMiddleware",
    "web.accounts.unsaved.UnsavedMiddleware",
    "web.accounts.access_log.AccessLogMiddleware",
    "web.clients.pseudonyms.NamelessMiddleware",
    "simple_history.middleware.HistoryRequestMiddleware",
    "axes.middleware.AxesMiddleware",
]

ROOT_URLCONF = "web.config.urls"
ASGI_APPLICATION = "web.config.asgi.application"

TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "APP_DIRS": True,
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
            ],
            "builtins": ["django.templatetags.i18n", "web.ui.templatetags.still_reed"],
        },
    },
]

AUTH_USER_MODEL = "accounts.User"
AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "django.contrib.auth.backends.ModelBackend",
]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
    {
        "NAME": "django.contrib.auth.password_validation.MinimumLengthValidator",
        "OPTIONS": {"min_length": 12},
    },
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
    {"NAME": "web.accounts.passwords.LongestValidator"},
]
LOGIN_URL = "accounts:sign_in"
LOGIN_REDIRECT_URL = "accounts:home"
LOGOUT_REDIRECT_URL = "accounts:sign_in"

# Accounts are made by invitation; sign-in by name or email, optionally with a second step or a
# passkey.
ACCOUNT_ADAPTER = "web.accounts.second.adapters.AccountAdapter"
ACCOUNT_EMAIL_VERIFICATION = "none"
# Attempts are counted across processes: passwords by axes, codes by their own form.
ACCOUNT_RATE_LIMITS = False
MFA_RATE_LIMITS = {"webauthn_login": "60/m/ip"}  # A whole clinic may share one address.
ACCOUNT_FORMS = {"reauthenticate": "web.accounts.second.forms.PasswordAgainForm"}
#: Do not ask for the password again within this time, seconds.
ACCOUNT_REAUTHENTICATION_TIMEOUT = 15 * 60
MFA_ADAPTER = "web.accounts.second.adapters.SecondStepAdapter"
MFA_SUPPORTED_TYPES = ["totp", "webauthn", "recovery_codes"]
MFA_FORMS = {
    "authenticate": "web.accounts.second.forms.AnswerForm",
    "reauthenticate": "web.accounts.second.forms.AnswerAgainForm",
    "activate_totp": "web.accounts.second.forms.AddCodesForm",
    "add_webauthn": "web.accounts.second.forms.AddPasskeyForm",
}
MFA_TOTP_ISSUER = "Still Reed"
#: Accept a code half a minute longer, because clocks differ.
MFA_TOTP_TOLERANCE = 1
MFA_PASSKEY_LOGIN_ENABLED = True
MFA_WEBAUTHN_USER_VERIFICATION = "required"
MFA_TRUST_ENABLED = True
#: Maximum; each clinic sets its own value.
MFA_TRUST_COOKIE_AGE = 30 * 24 * 60 * 60

# A practice PIN is short, so few attempts are allowed per name and address together.
AXES_FAILURE_LIMIT = 6
AXES_COOLOFF_TIME = 0.25  # hours
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_RESET_ON_SUCCESS = True
AXES_LOCKOUT_CALLABLE = "web.accounts.views.locked_out"
AXES_CLIENT_IP_CALLABLE = "web.accounts.address.address_of"
AXES_ENABLE_ADMIN = False
AXES_VERBOSE = False
# Never log mistyped values or paths: they may be valid elsewhere or open a practice link.
AXES_SENSITIVE_PARAMETERS = ["username", "ip_address", "pin", "again", "code"]
AXES_DISABLE_ACCESS_LOG = True

#: Number of trusted proxies in front, each of which appends the address of its client.
TRUSTED_PROXY_HOPS = env.int("TRUSTED_PROXY_HOPS", default=0)

SESSION_COOKIE_AGE = 12 * 60 * 60
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_SAMESITE = "Lax"
CSRF_FAILURE_VIEW = "web.ui.views.form_expired"
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"

# No inline code and no other origins.
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF],
        "font-src": [SELF],
        "img-src": [SELF],
        "media-src": [SELF],
        "connect-src": [SELF],
        "worker-src": [SELF],
        "manifest-src": [SELF],
        "form-action": [SELF],
        "base-uri": [NONE],
        "frame-ancestors": [NONE],
    },
}

#: Journal of what a restore must not undo; backups copy it separately.
JOURNAL_FOLDER = env("JOURNAL_FOLDER", default=str(LOCAL / "journal"))
#: Days for which a device keeps acknowledged entries, encrypted, in case of a restore.
DEVICE_KEEPS_DAYS = env.int("DEVICE_KEEPS_DAYS", default=14)

#: Jobs are queued in the database and defined in each app's `jobs`; any worker can run them.
PROCRASTINATE_AUTODISCOVER_MODULE_NAME = "jobs"

#: Public address of the site, used in emails.
SITE_URL = env("SITE_URL", default="http://127.0.0.1:8000")
#: Private key of reminders on devices (`still-reed push-key`); without one none are offered.
WEB_PUSH_KEY = env("WEB_PUSH_KEY", default="")
if WEB_PUSH_KEY and not re.fullmatch(r"[A-Za-z0-9_-]{43}", WEB_PUSH_KEY):
    raise ImproperlyConfigured("WEB_PUSH_KEY is not a key. Make one with: still-reed push-key")
#: Contact that a push service can use, a mailto: or https: address.
WEB_PUSH_CONTACT = env("WEB_PUSH_CONTACT", default="mailto:still-reed@localhost")
#: For tests with a push service on this machine; elsewhere addresses must be public.
WEB_PUSH_ALLOWS_LOCAL = False
DEFAULT_FROM_EMAIL = env("MAIL_FROM", default="Still Reed <still-reed@localhost>")
#: Recipient of the site's own emails (alerts, failed units). Empty: MAIL_FROM.
ALERTS_TO = env("ALERTS_TO", default="")
#: Timeout for a mail server that does not answer, seconds.
EMAIL_TIMEOUT = 10

# English is the only language so far. Every text is marked, so another one only needs a catalogue.
LANGUAGE_CODE = "en-gb"
LANGUAGES = [("en-gb", "English")]
LOCALE_PATHS = [ROOT / "web" / "locale"]
FORMAT_MODULE_PATH = ["web.config.formats"]
TIME_ZONE = "UTC"
USE_TZ = True

# WhiteNoise returns plain iterators that Django reads completely, which is fine for small files.
warnings.filterwarnings("ignore", message="StreamingHttpResponse must consume synchronous")

STATIC_URL = "static/"
STATIC_ROOT = ROOT / "web" / "collected"

#: Duration of the reference note and of the breath cue before a trial, seconds.
REFERENCE_TONE_S = 2.0
BREATH_CUE_S = 2.5
#: A device uses the stopwatch after this long without the live line, and waits this long for a
#: measured result before it continues; the stored sound follows later.
LINE_WAIT_S, ANSWER_WAIT_S = 2.5, 6.0
#: Largest upload: five minutes of 24-bit stereo at 48 kHz, with some reserve.
LARGEST_UPLOAD_BYTES = 90 * 1024 * 1024
#: Largest request: one upload and its form. Anonymous requests are limited much further.
LARGEST_BODY_BYTES = LARGEST_UPLOAD_BYTES + 1024 * 1024
LARGEST_ANONYMOUS_BODY_BYTES = 64 * 1024
DATA_UPLOAD_MAX_MEMORY_SIZE = 3 * 1024 * 1024

#: Live takes per process; further takes are measured afterwards.
LIVE_TAKES = env.int("LIVE_TAKES", default=40)
#: Worker processes that measure whole recordings, and the length of their queue.
ANALYSIS_PROCESSES = env.int("ANALYSIS_PROCESSES", default=1)
ANALYSES_WAITING = env.int("ANALYSES_WAITING", default=32)

#: Report a backup or test email that is older than this, hours; 0 if backups are made by other
#: means.
BACKUP_EVERY_H = env.int("BACKUP_EVERY_H", default=26)
#: A folder on the database's disk, if it is on this machine.
DATABASE_DISK = env("DATABASE_DISK", default="")

#: Token for the monitoring endpoint; without one it is closed.
HEALTH_TOKEN = env("HEALTH_TOKEN", default="")

# Log the error id that the page shows, and no path that grants access.
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "filters": {
        "fault": {"()": "web.ui.faults.FaultFilter"},
    },
    "formatters": {
        "event": {"()": "web.ui.logs.formatter", "layout": env("LOG_FORMAT", default="logfmt")}
    },
    "handlers": {
        "console": {
            "class": "logging.StreamHandler",
            "filters": ["fault"],
            "formatter": "event",
        }
    },
    "root": {"handlers": ["console"], "level": "WARNING"},
    "loggers": {
        "django": {"handlers": [], "level": "WARNING", "propagate": True},
        # Log sign-ins, failures and denials by number, never by name.
        "still_reed.auth": {"handlers": ["console"], "level": "INFO", "propagate": False},
        "uvicorn.access": {"handlers": ["console"], "level": "WARNING", "propagate": False},
    },
}
