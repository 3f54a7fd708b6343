"""Settings. Secrets come from .local/, made by script/setup and never committed."""

import os
import warnings
from pathlib import Path

from .local import database_settings, secret_key

BASE_DIR = Path(__file__).resolve().parent.parent.parent
LOCAL_DIR = Path(os.environ.get("INKWELL_LOCAL", BASE_DIR / ".local"))
WEB_DIST = BASE_DIR / "web" / "dist"
# Where models that were brought in lie for whoever works light out on this machine.
os.environ.setdefault("MOTH_SCANS", str(LOCAL_DIR / "scans"))

SECRET_KEY = secret_key(LOCAL_DIR)
DEBUG = False
ALLOWED_HOSTS = os.environ.get("INKWELL_HOSTS", "127.0.0.1,localhost").split(",")
# Set when TLS ends in front of this server; without it the browser would refuse plain loopback.
TLS = os.environ.get("INKWELL_TLS") == "1"
SECURE_SSL_REDIRECT = SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = TLS
SECURE_HSTS_SECONDS = 31_536_000 if TLS else 0
SECURE_HSTS_INCLUDE_SUBDOMAINS = SECURE_HSTS_PRELOAD = TLS
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https") if TLS else None
CSRF_TRUSTED_ORIGINS = [f"https://{h}" for h in ALLOWED_HOSTS] if TLS else []
CSRF_TRUSTED_ORIGINS += os.environ.get("INKWELL_ORIGINS", "").split()
# Sessions live in the database alone: who signed out is out in every process.
SESSION_ENGINE = "django.contrib.sessions.backends.db"
SESSION_COOKIE_AGE = 60 * 60 * 24 * 14
SESSION_COOKIE_SAMESITE = CSRF_COOKIE_SAMESITE = "Lax"
X_FRAME_OPTIONS = "DENY"

LARGEST_BODY = 2_500_000
"""Bytes of a request; a set-up is a few kilobytes, a photometric file a few more."""
LARGEST_PICTURE = 101_000_000
"""Bytes of a request that brings a still or a model in."""
DATA_UPLOAD_MAX_MEMORY_SIZE = LARGEST_BODY

INSTALLED_APPS = [
    "django.contrib.admin",
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "django.contrib.staticfiles",
    "ninja",
    "inkwell.accounts",
    "inkwell.productions",
    "inkwell.setups",
    "inkwell.rendering",
    "inkwell.trials",
    "inkwell.stills",
    "inkwell.scans",
    "inkwell.kit",
    "inkwell.days",
]
MIDDLEWARE = [
    "inkwell.config.middleware.away",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "inkwell.config.middleware.body_limit",
    "inkwell.config.middleware.content_policy",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "inkwell.config.middleware.one_thread",
]
ROOT_URLCONF = "inkwell.config.urls"
ASGI_APPLICATION = "inkwell.config.asgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "DIRS": [],
        "APP_DIRS": True,
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
            ],
        },
    },
]
DATABASES = {"default": database_settings(LOCAL_DIR)}
AUTH_USER_MODEL = "accounts.User"
AUTHENTICATION_BACKENDS = [
    "inkwell.accounts.doors.Patience",
    "django.contrib.auth.backends.ModelBackend",
]
TRUSTED_PROXIES = int(os.environ.get("INKWELL_PROXIES", "0"))
"""Proxies in front whose word on the caller's address is taken; none unless told."""
ENGINE = os.environ.get("INKWELL_ENGINE", "apart")
"""Where light is worked out: "apart" in a process of its own, or "inside" this one."""
CLUSTER = os.environ.get("INKWELL_CLUSTER", "")
"""Address of a Dask scheduler whose workers run trials; empty for workers on this machine."""
CACHES = {
    "default": {"BACKEND": "django.core.cache.backends.locmem.LocMemCache"},
    # Pictures of shelf and history, by content: shared by all processes, kept over restarts.
    "pictures": {
        "BACKEND": "django.core.cache.backends.filebased.FileBasedCache",
        "LOCATION": LOCAL_DIR / "pictures",
        "TIMEOUT": None,
        "OPTIONS": {"MAX_ENTRIES": 3000},
    },
}
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": f"django.contrib.auth.password_validation.{name}"}
    for name in (
        "UserAttributeSimilarityValidator",
        "MinimumLengthValidator",
        "CommonPasswordValidator",
        "NumericPasswordValidator",
    )
]
LOGIN_URL = "/sign-in"
LANGUAGE_CODE = "en-gb"
TIME_ZONE = "UTC"
USE_TZ = True
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
STATIC_URL = "/static/"
STATIC_ROOT = LOCAL_DIR / "static"
WHITENOISE_ROOT = WEB_DIST
WHITENOISE_INDEX_FILE = False
# WhiteNoise hands files over as plain iterators; Django copes and says so at every file.
warnings.filterwarnings(
    "ignore", message="StreamingHttpResponse must consume synchronous iterators"
)
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    # Refusals are answers, not events; errors are still logged.
    "loggers": {"django.request": {"level": "ERROR"}},
    "root": {"handlers": ["console"], "level": os.environ.get("INKWELL_LOG", "WARNING")},
}
