"""A clinic's own server. Everything that differs comes from the environment."""

from .base import *
from .base import env

SECRET_KEY = env("SECRET_KEY")
ALLOWED_HOSTS = env.list("ALLOWED_HOSTS")
CSRF_TRUSTED_ORIGINS = [f"https://{host}" for host in ALLOWED_HOSTS]
DEBUG = False
SECURE_SSL_REDIRECT = True
SECURE_HSTS_SECONDS = 365 * 24 * 60 * 60
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
SESSION_COOKIE_SECURE = True
CSRF_COOKIE_SECURE = True
vars().update(env.email("EMAIL_URL", default="consolemail://"))
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "whitenoise.storage.CompressedManifestStaticFilesStorage"},
}
#: A made-up voice in a real record would mislead; a clinic may switch it on to train its staff.
OFFER_SIMULATED_VOICE = env.bool("OFFER_SIMULATED_VOICE", default=False)
SIMULATED_BREATH_S = 13.0
