"""Settings of the demo: one machine on loopback, invented data."""

from django.core.management.utils import get_random_secret_key

from .base import *
from .base import INSTALLED_APPS, LOCAL

_key_file = LOCAL / "secret-key"
if not _key_file.exists():
    LOCAL.mkdir(exist_ok=True)
    _key_file.write_text(get_random_secret_key())
    _key_file.chmod(0o600)

SECRET_KEY = _key_file.read_text()
DEBUG = False
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "[::1]"]
INSTALLED_APPS += ["web.demo"]
# Serve static files from source: nothing to collect before the first page.
WHITENOISE_USE_FINDERS = True
WHITENOISE_AUTOREFRESH = True
#: Local outbox: emails are stored as files and not sent.
EMAIL_BACKEND = "django.core.mail.backends.filebased.EmailBackend"
EMAIL_FILE_PATH = LOCAL / "outbox"
OFFER_SIMULATED_VOICE = True
#: How long the simulated client of the baseline sheet can hold a vowel, seconds.
SIMULATED_BREATH_S = 13.0
