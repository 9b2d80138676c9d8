"""Settings that hold everywhere. What differs by place stands in demo, test and production."""

import warnings
from pathlib import Path

import environ
from csp.constants import NONE, SELF

ROOT = Path(__file__).resolve().parents[3]
LOCAL = ROOT / ".local"

env = environ.Env()
# written by bin/postgres; the environment's own DATABASE_URL wins
if (LOCAL / "database.env").exists():
    env.read_env(LOCAL / "database.env")

# what is drawn once and shown often, in each process for itself; nothing is true only because it is
# kept here
CACHES = {
    "default": {
        "BACKEND": "django.core.cache.backends.locmem.LocMemCache",
        "OPTIONS": {"MAX_ENTRIES": 5000},
    }
}
DATABASES = {"default": env.db("DATABASE_URL", default="postgres://127.0.0.1/still_reed")}
# a new connection costs PostgreSQL a process, and an edit in the composer a fifth of its time;
# each is looked at before it is used, and who gets none in two seconds is told to come back
DATABASES["default"].setdefault("OPTIONS", {}).update(
    pool={"min_size": 1, "max_size": 16, "timeout": 2.0},
    connect_timeout=2,
    # a server that no longer answers is not waited for by the kernel's own patience
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
    # after the product's own, whose templates stand in front of theirs
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
    "web.accounts.access_log.OpenedMiddleware",
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

# people come by invitation, sign in by name or mail, and may have a second step or a passkey
ACCOUNT_ADAPTER = "web.accounts.second.adapters.AccountAdapter"
ACCOUNT_EMAIL_VERIFICATION = "none"
# guesses are counted for all processes together: passwords by axes, codes by their own form
ACCOUNT_RATE_LIMITS = False
MFA_RATE_LIMITS = {"webauthn_login": "60/m/ip"}  # a clinic may come from one address
ACCOUNT_FORMS = {"reauthenticate": "web.accounts.second.forms.PasswordAgainForm"}
#: Who has just been asked for the password again is not asked once more for so long, seconds.
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
#: A code is good for half a minute more, for clocks differ.
MFA_TOTP_TOLERANCE = 1
MFA_PASSKEY_LOGIN_ENABLED = True
MFA_WEBAUTHN_USER_VERIFICATION = "required"
MFA_TRUST_ENABLED = True
#: At most; each clinic says how much of it.
MFA_TRUST_COOKIE_AGE = 30 * 24 * 60 * 60

# A practice PIN has few digits, so guesses are few: per name and per address together.
AXES_FAILURE_LIMIT = 6
AXES_COOLOFF_TIME = 0.25  # hours
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_RESET_ON_SUCCESS = True
AXES_LOCKOUT_CALLABLE = "web.accounts.views.locked_out"
AXES_CLIENT_IP_CALLABLE = "web.accounts.address.address_of"
AXES_ENABLE_ADMIN = False
AXES_VERBOSE = False
# what is typed wrongly is often right somewhere else, and a path may open a practice link
AXES_SENSITIVE_PARAMETERS = ["username", "ip_address", "pin", "again", "code"]
AXES_DISABLE_ACCESS_LOG = True

#: How many proxies of our own stand in front, each adding the address it was asked from.
TRUSTED_PROXY_HOPS = env.int("TRUSTED_PROXY_HOPS", default=0)

SESSION_COOKIE_AGE = 12 * 60 * 60
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_SAMESITE = "Lax"
CSRF_FAILURE_VIEW = "web.ui.views.form_expired"
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"

# Nothing inline, nothing from anywhere else.
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

#: The log beside the database of what a restore must not undo; backups copy it apart.
JOURNAL_FOLDER = env("JOURNAL_FOLDER", default=str(LOCAL / "journal"))
#: A device keeps what the clinic has acknowledged for so long, sealed, in case of a restore.
DEVICE_KEEPS_DAYS = env.int("DEVICE_KEEPS_DAYS", default=14)

#: Jobs stand in the database and lie in each app's `jobs`; a worker anywhere may do them.
PROCRASTINATE_AUTODISCOVER_MODULE_NAME = "jobs"

#: Where the site stands, for the links in its mails.
SITE_URL = env("SITE_URL", default="http://127.0.0.1:8000")
DEFAULT_FROM_EMAIL = env("MAIL_FROM", default="Still Reed <still-reed@localhost>")
#: To whom the site writes of itself: mail that goes out, a unit that failed. Empty: MAIL_FROM.
ALERTS_TO = env("ALERTS_TO", default="")
#: A mail server that says nothing holds up nobody for longer, seconds.
EMAIL_TIMEOUT = 10

# English is the only language yet; every text is marked, so that another one is a catalogue away
LANGUAGE_CODE = "en-gb"
LANGUAGES = [("en-gb", "English")]
LOCALE_PATHS = [ROOT / "web" / "locale"]
FORMAT_MODULE_PATH = ["web.config.formats"]
TIME_ZONE = "UTC"
USE_TZ = True

# WhiteNoise hands files over as plain iterators; Django reads them whole, which suits small ones
warnings.filterwarnings("ignore", message="StreamingHttpResponse must consume synchronous")

STATIC_URL = "static/"
STATIC_ROOT = ROOT / "web" / "collected"

#: How long the note is played before a try, and how long its breath is given, seconds.
REFERENCE_TONE_S = 2.0
BREATH_CUE_S = 2.5
#: A device without the live line for so long times by itself; and so long it waits for the measured
#: result before it goes on, and lets the stored sound follow.
LINE_WAIT_S, ANSWER_WAIT_S = 2.5, 6.0
#: The largest recording a person may hand in: five minutes of stereo at 48 kHz in 24 bits, and
#: some.
LARGEST_UPLOAD_BYTES = 90 * 1024 * 1024
#: The largest request whole: that, and what stands around it. Who is not signed in sends far less.
LARGEST_BODY_BYTES = LARGEST_UPLOAD_BYTES + 1024 * 1024
LARGEST_ANONYMOUS_BODY_BYTES = 64 * 1024
DATA_UPLOAD_MAX_MEMORY_SIZE = 3 * 1024 * 1024

#: Takes that one process measures while they sound; the rest are measured afterwards.
LIVE_TAKES = env.int("LIVE_TAKES", default=40)
#: Processes beside each serving one that measure whole recordings, and how many may wait for them.
ANALYSIS_PROCESSES = env.int("ANALYSIS_PROCESSES", default=1)
ANALYSES_WAITING = env.int("ANALYSES_WAITING", default=32)

#: A backup or a mail to ourselves that is older is said, hours; 0 where other means make backups.
BACKUP_EVERY_H = env.int("BACKUP_EVERY_H", default=26)
#: A folder on the disk that the database lies on, where that is this machine's.
DATABASE_DISK = env("DATABASE_DISK", default="")

#: Whoever watches the site asks with this token for what it is doing; without one nobody can ask.
HEALTH_TOKEN = env("HEALTH_TOKEN", default="")

# on each line of an error the short id that its page shows; no path that opens something
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
        # sign-ins, failed sign-ins and refused pages: by number, never by name
        "still_reed.auth": {"handlers": ["console"], "level": "INFO", "propagate": False},
        "uvicorn.access": {"handlers": ["console"], "level": "WARNING", "propagate": False},
    },
}
