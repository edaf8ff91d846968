"""Settings. Everything a place may want to change comes from the environment; the defaults run a safe single machine."""

from __future__ import annotations

import os
import secrets
from pathlib import Path

from hobrel.server.own_settings import read_settings

ROOT = Path(__file__).resolve().parent.parent.parent
DATA = Path(os.environ.get("HOBREL_DATA", ROOT / "var"))
DATA.mkdir(parents=True, exist_ok=True)
_SETTINGS = read_settings(DATA / "hobrel.env", os.environ)
DEMO = os.environ.get("HOBREL_DEMO") == "1"
DEBUG = os.environ.get("HOBREL_DEBUG") == "1"


def _read_secret() -> str:
    """The signing key: from the environment, else made once and kept beside the data."""
    if _SETTINGS.secret:
        return _SETTINGS.secret
    kept = DATA / "secret"
    if not kept.exists() or not kept.read_text().strip():
        # whole or not at all: a full disk must not leave a server with an empty secret
        beside = DATA / f"secret.{os.getpid()}.part"
        try:
            with open(os.open(beside, os.O_CREAT | os.O_WRONLY | os.O_TRUNC, 0o600), "w") as file:
                file.write(secrets.token_urlsafe(50))
                file.flush()
                os.fsync(file.fileno())
            beside.replace(kept)
        finally:
            beside.unlink(missing_ok=True)
    return kept.read_text().strip()


def _keep_private(database: Path) -> Path:
    """The database is its owner's alone, also one that was made before."""
    if not database.exists():
        os.close(os.open(database, os.O_CREAT | os.O_WRONLY, 0o600))
    elif database.stat().st_mode & 0o077:
        database.chmod(0o600)
    return database


SECRET_KEY = _read_secret()
ADDRESS, BEHIND_PROXY, BIND = _SETTINGS.address, _SETTINGS.is_secure, _SETTINGS.bind
ALLOWED_HOSTS, CSRF_TRUSTED_ORIGINS = list(_SETTINGS.hosts), list(_SETTINGS.origins)
INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "ninja",
    "hobrel.classes",
    "hobrel.plans",
    "hobrel.labbooks",
    "hobrel.school",
    "hobrel.pools",
    "hobrel.reports",
    "hobrel.lessons",
    "hobrel.handins",
    "hobrel.interchange",
    "hobrel.demo",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "hobrel.server.middleware.ContentSecurityPolicy",
    "hobrel.server.middleware.FormOfTheApi",
    # no answer holds a secret of its own beside what somebody else has written, so that its length tells nothing
    "django.middleware.gzip.GZipMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
ROOT_URLCONF = "hobrel.server.urls"
WSGI_APPLICATION = "hobrel.server.wsgi.application"
TEMPLATES = [{"BACKEND": "django.template.backends.django.DjangoTemplates", "DIRS": [ROOT / "web" / "dist"], "APP_DIRS": False}]
AUTH_USER_MODEL = "classes.Person"
AUTHENTICATION_BACKENDS = ["hobrel.classes.signing.PersonBackend"]
SESSION_ENGINE = "hobrel.classes.signing"
TEST_RUNNER = "tests.runner.Runner"
# as strong as the usual choice at a third of its time, so that three classes can sign in at once; what was hashed before is understood
PASSWORD_HASHERS = ["django.contrib.auth.hashers.ScryptPasswordHasher", "django.contrib.auth.hashers.PBKDF2PasswordHasher"]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 10}},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

_journal = os.environ.get("HOBREL_JOURNAL", "WAL")
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": _keep_private(Path(os.environ.get("HOBREL_DATABASE", DATA / "hobrel.sqlite3"))),
        # WAL with FULL sync: an acknowledged edit survives kill -9 and a power cut. IMMEDIATE: a transaction that reads first
        # and writes later does not fail when another writer came between.
        "OPTIONS": {
            # 28 who choose their PINs at once on a slow disk take seconds; what is sent again by itself gives up sooner
            "timeout": 20,
            "transaction_mode": "IMMEDIATE",
            "init_command": f"PRAGMA journal_mode={_journal}; PRAGMA synchronous=FULL;",
        },
        "CONN_MAX_AGE": None,
        # a file: with an in-memory database the server's threads and the test's would not see each other's rows
        "TEST": {"NAME": DATA / "test.sqlite3"},
    }
}

LANGUAGE_CODE = "en-gb"
USE_TZ = True
OWN_TIME_ZONE = _SETTINGS.time_zone
"""What goes before the school's own, where it is set."""
TIME_ZONE = OWN_TIME_ZONE or "UTC"

STATIC_URL = "/static/"
STATIC_ROOT = DATA / "static"
STATICFILES_DIRS = [ROOT / "web" / "dist"] if (ROOT / "web" / "dist").exists() else []
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "whitenoise.storage.CompressedStaticFilesStorage"},
}
WHITENOISE_USE_FINDERS = DEBUG
# the front end's build has already put a digest into every file name under assets/
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/static/assets/.+-[A-Za-z0-9_-]{8,}\.\w+$"

SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = BEHIND_PROXY
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https") if BEHIND_PROXY else None
SECURE_REFERRER_POLICY = "same-origin"
SECURE_CONTENT_TYPE_NOSNIFF = True
X_FRAME_OPTIONS = "DENY"
DATA_UPLOAD_MAX_MEMORY_SIZE = 5 * 1024 * 1024
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
    # a refusal is an answer, not an event worth a line
    "loggers": {
        "django.request": {"level": "ERROR"},
        "django.security.csrf": {"level": "ERROR"},
        # whoever looks through a network asks for names that are not ours
        "django.security.DisallowedHost": {"level": "CRITICAL"},
    },
}
