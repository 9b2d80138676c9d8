"""Settings of the tests: real PostgreSQL and cheap password hashing."""

from .base import *
from .base import DATABASES, INSTALLED_APPS, LOCAL, env

SECRET_KEY = "for tests only"
DEBUG = False
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "testserver"]
INSTALLED_APPS += ["web.demo"]
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
WHITENOISE_USE_FINDERS = True
WHITENOISE_AUTOREFRESH = True
# Test data need not survive a power cut.
DATABASES["default"]["OPTIONS"]["options"] = "-c synchronous_commit=off"
JOURNAL_FOLDER = env("JOURNAL_FOLDER", default=str(LOCAL / "journal-of-tests"))
OFFER_SIMULATED_VOICE = True
#: Short, to keep the tests fast.
REFERENCE_TONE_S = 0.3
BREATH_CUE_S = 0.3
SIMULATED_BREATH_S = 2.0
#: A busy machine measures late, and the tests check the measured result.
LINE_WAIT_S, ANSWER_WAIT_S = 10.0, 20.0
#: How long a test waits for a mail server that does not answer.
EMAIL_TIMEOUT = 2
vars().update(env.email("EMAIL_URL", default="smtp://127.0.0.1:9"))
