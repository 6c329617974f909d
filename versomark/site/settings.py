"""Django settings. Everything that differs between machines comes from the environment."""

import os
import secrets
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

from versomark.site.databases import object_store, settings_of

ROOT = Path(__file__).resolve().parents[2]
DATA = Path(os.environ.get("VERSO_DATA", ROOT / "var" / "school"))
WEB = Path(os.environ.get("VERSO_WEB", ROOT / "web" / "dist"))
DATA.mkdir(parents=True, exist_ok=True)


def _secret_key() -> str:
    """One key per school, made on first start and kept beside its database."""
    secret_key = DATA / "secret_key"
    if not secret_key.exists():
        secret_key.touch(mode=0o600)
        secret_key.write_text(secrets.token_urlsafe(50))
    return secret_key.read_text()


SECRET_KEY = os.environ.get("VERSO_SECRET_KEY") or _secret_key()
DEBUG = os.environ.get("VERSO_DEBUG") == "1"
# How the service is reached from outside, for links in letters: https://marks.school.example
ADDRESS = os.environ.get("VERSO_ADDRESS", "").rstrip("/")
ENCRYPTED = ADDRESS.startswith("https://")
# A service with a name of its own answers to that name. Without one it runs inside a school, under whatever name the
# network gives the machine.
ALLOWED_HOSTS = (
    os.environ["VERSO_HOSTS"].split(",")
    if "VERSO_HOSTS" in os.environ
    else [str(urlsplit(ADDRESS).hostname), "localhost", "127.0.0.1", "[::1]"]
    if ENCRYPTED
    else ["*"]
)

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "axes",
    "channels",
    "django_tasks_db",
    "versomark.school.accounts",
    "versomark.school.classes",
    "versomark.school.bank",
    "versomark.school.editions",
    "versomark.school.delivery",
    "versomark.school.responses",
    "versomark.school.room",
    "versomark.school.one_to_one",
    "versomark.school.paper",
    "versomark.school.grading",
    "versomark.school.performances",
    "versomark.school.comparison",
    "versomark.school.findings",
    "versomark.school.feedback",
    "versomark.school.records",
    "versomark.school.reports",
    "versomark.school.portal",
    "versomark.school.placement",
    "versomark.school.desk",
    "versomark.school.privacy",
    "versomark.school.practice",
    "versomark.school.timetable",
    "versomark.upkeep",
    "versomark.demo",
]

MIDDLEWARE = [
    "versomark.site.observed.Observed",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "versomark.site.middleware.ContentSecurityPolicy",
    "versomark.site.middleware.LanguageOfTheReader",
    "versomark.site.middleware.RefusedMethods",
    "versomark.site.own_pages.OnlyOwnPages",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "versomark.site.middleware.WhoseWork",
    "versomark.school.accounts.sign_ins.SignInsEnd",
    "versomark.school.accounts.watch.Watch",
    "axes.middleware.AxesMiddleware",
    "versomark.school.accounts.deliveries.RepeatableRequests",
]

ROOT_URLCONF = "versomark.site.urls"
ASGI_APPLICATION = "versomark.site.asgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "APP_DIRS": True,
        "OPTIONS": {"builtins": ["versomark.school.template_words"]},
    }
]

# One file in the school's folder, for one machine. `postgresql://…` is for more than one, or for many at once.
DATABASE_URL = os.environ.get("DATABASE_URL", "")
# What processes of one service share: who is there, what was just said, wrong tries. `redis://…`; for one process no
# server is needed.
REDIS_URL = os.environ.get("REDIS_URL", "")
DATABASES = {"default": settings_of(DATABASE_URL, DATA)}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

CHANNEL_LAYERS: dict[str, dict[str, Any]] = {"default": {"BACKEND": "versomark.site.layer.Layer"}}
CACHES: dict[str, dict[str, Any]] = {"default": {"BACKEND": "django.core.cache.backends.locmem.LocMemCache"}}
if REDIS_URL:
    CHANNEL_LAYERS["default"] = {
        "BACKEND": "channels_redis.pubsub.RedisPubSubChannelLayer",
        "CONFIG": {"hosts": [REDIS_URL]},
    }
    CACHES["default"] = {"BACKEND": "django.core.cache.backends.redis.RedisCache", "LOCATION": REDIS_URL}

# Long work stands in the database until it is done; a thread of the server does it, one piece at a time.
TASKS = {"default": {"BACKEND": "django_tasks_db.DatabaseBackend"}}

# Of several web processes on one PostgreSQL one does it, or none where workers do (`serve --no-work`, `work`).
DOES_BACKGROUND_WORK = os.environ.get("VERSO_WORK", "1") == "1"

# One back-up a night, checked by reading it back; on the school's own disk unless another place is named.
BACKUPS = Path(os.environ.get("VERSO_BACKUPS", DATA / "backups"))
BACKUP_NIGHTLY = os.environ.get("VERSO_BACKUP_NIGHTLY", "1") == "1"
BACKUP_HOUR = int(os.environ.get("VERSO_BACKUP_HOUR", "2"))
# Who may read /metrics from another machine; without a token only this one may.
METRICS_TOKEN = os.environ.get("VERSO_METRICS_TOKEN", "")

# Where files are kept beside the folder, so that machines need not share one: `s3://bucket` or `s3://bucket/below`, of
# any service that speaks so; who may is said as for all its programs (AWS_ACCESS_KEY_ID, AWS_SECRET_ACCESS_KEY).
LIKENESS = os.environ.get("VERSO_LIKENESS", "")
"""`package.module.function` of a school's own: from texts to one row of numbers each, in place of words and letters."""

FILES_STORE = os.environ.get("VERSO_FILES_STORE", "")
STORAGES: dict[str, dict[str, Any]] = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"},
}
if FILES_STORE:
    STORAGES["files"] = object_store(FILES_STORE, os.environ.get("VERSO_FILES_ENDPOINT", ""))

# Where copiers save scans, and a folder of .eml files that stands in for a mail server until one is named.
SCANS_FOLDER = Path(os.environ.get("VERSO_SCANS", DATA / "scans"))
MAIL_FOLDER = Path(os.environ.get("VERSO_MAIL", DATA / "mail"))
IMAP_HOST = os.environ.get("VERSO_IMAP_HOST", "")
IMAP_USER = os.environ.get("VERSO_IMAP_USER", "")
IMAP_PASSWORD = os.environ.get("VERSO_IMAP_PASSWORD", "")
EMAIL_HOST = os.environ.get("VERSO_SMTP_HOST", "")
EMAIL_PORT = int(os.environ.get("VERSO_SMTP_PORT", "587"))
EMAIL_HOST_USER = os.environ.get("VERSO_SMTP_USER", "")
EMAIL_HOST_PASSWORD = os.environ.get("VERSO_SMTP_PASSWORD", "")
EMAIL_USE_TLS = EMAIL_PORT == 587
EMAIL_TIMEOUT = 20
DEFAULT_FROM_EMAIL = os.environ.get("VERSO_MAIL_FROM", "verso-mark@localhost")
EMAIL_BACKEND = f"django.core.mail.backends.{'smtp' if EMAIL_HOST else 'filebased'}.EmailBackend"
EMAIL_FILE_PATH = MAIL_FOLDER / "out"

AUTH_USER_MODEL = "accounts.Teacher"
AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "django.contrib.auth.backends.ModelBackend",
]
PASSWORD_HASHERS = [
    "django.contrib.auth.hashers.Argon2PasswordHasher",
    "django.contrib.auth.hashers.PBKDF2PasswordHasher",
]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 8}},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
AXES_FAILURE_LIMIT = 8
AXES_COOLOFF_TIME = 0.05
AXES_CLIENT_IP_CALLABLE = "versomark.school.accounts.known_devices.counted_as"
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_RESET_ON_SUCCESS = True
AXES_VERBOSE = False
AXES_LOCKOUT_CALLABLE = "versomark.school.accounts.known_devices.locked_out"

SESSION_COOKIE_NAME = "verso_teacher"
SESSION_COOKIE_AGE = 60 * 60 * 24 * 30
SESSION_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_NAME = "verso_csrf"
CSRF_HEADER_NAME = "HTTP_X_VERSO_CSRF"
# Once the service has an encrypted address, no cookie leaves a browser by another way.
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = ENCRYPTED
SECURE_HSTS_SECONDS = 365 * 24 * 3600 if ENCRYPTED else 0

STATIC_URL = "/static/"
STATIC_ROOT = WEB
WHITENOISE_MAX_AGE = 60 * 60
WHITENOISE_MIMETYPES = {".webmanifest": "application/manifest+json"}
USE_TZ = True
TIME_ZONE = os.environ.get("VERSO_TIME_ZONE", "UTC")
LANGUAGE_CODE = "en"
SECURE_REFERRER_POLICY = "same-origin"
# The largest that any door needs; each has its own limit, in `body_limit.py`.
DATA_UPLOAD_MAX_MEMORY_SIZE = 80 * 1024 * 1024

# `json`: a line a request and event, for a machine to read. Otherwise what went wrong, for a person.
LOG_FORM = "json" if os.environ.get("VERSO_LOG") == "json" else "plain"
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "filters": {"numbered": {"()": "versomark.site.observed.Numbered"}},
    "formatters": {
        "plain": {"format": "%(message)s"},
        "json": {
            "()": "pythonjsonlogger.json.JsonFormatter",
            "fmt": "%(asctime)s %(levelname)s %(name)s %(message)s %(request_id)s",
            "rename_fields": {"asctime": "at", "levelname": "level", "name": "logger"},
        },
    },
    "handlers": {"console": {"class": "logging.StreamHandler", "filters": ["numbered"], "formatter": LOG_FORM}},
    # A refusal in words is an answer, not an event for the log.
    "loggers": {
        "django.request": {"level": "ERROR"},
        "axes": {"level": "ERROR"},
        "versomark.requests": {"level": "INFO" if LOG_FORM == "json" else "WARNING"},
    },
    "root": {"handlers": ["console"], "level": "WARNING"},
}
