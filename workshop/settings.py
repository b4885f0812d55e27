"""Settings, all of them from the environment where they differ between machines.

PLAIN_SHANK_SECRET_KEY   required outside the start command and the tests, which make their own
PLAIN_SHANK_DB_*         NAME, USER, PASSWORD, SOCKET, HOST, PORT of the MariaDB
PLAIN_SHANK_HOSTS        host names, comma separated (default: loopback)
PLAIN_SHANK_ORIGINS      trusted origins behind a balancer, comma separated
PLAIN_SHANK_HTTPS        1 when the balancer speaks HTTPS: secure cookies, HSTS
PLAIN_SHANK_PROXIES      how many proxies stand in front, for the throttle's idea of an address
PLAIN_SHANK_DEMO         "user:password" shown on the sign-in page in demo mode only
PLAIN_SHANK_THROTTLE     failed sign-ins before a pause (default 8)
"""

from __future__ import annotations

import os
from datetime import timedelta
from pathlib import Path

BASE_DIR = Path(__file__).resolve().parent.parent
WEB_DIST = BASE_DIR / "web" / "dist"


def _env(name: str, default: str = "") -> str:
    return os.environ.get(f"PLAIN_SHANK_{name}", default)


def _list(name: str, default: str = "") -> list[str]:
    return [part.strip() for part in _env(name, default).split(",") if part.strip()]


SECRET_KEY = _env("SECRET_KEY")
DEBUG = False
ALLOWED_HOSTS = _list("HOSTS", "127.0.0.1,localhost")
CSRF_TRUSTED_ORIGINS = _list("ORIGINS")
DEMO_SIGN_IN = _env("DEMO")

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "axes",
    "csp",
    "ninja",
    "workshop.people",
    "workshop.gauges",
    "workshop.customers",
    "workshop.jobs",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "workshop.api.unavailable.DatabaseAway",
    "axes.middleware.AxesMiddleware",
]
ROOT_URLCONF = "workshop.urls"
WSGI_APPLICATION = "workshop.wsgi.application"

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.mysql",
        "NAME": _env("DB_NAME", "plain_shank"),
        "USER": _env("DB_USER", "plain_shank"),
        "PASSWORD": _env("DB_PASSWORD"),
        "HOST": _env("DB_SOCKET") or _env("DB_HOST", "127.0.0.1"),
        "PORT": _env("DB_PORT"),
        "CONN_MAX_AGE": 60,
        "CONN_HEALTH_CHECKS": True,
        "OPTIONS": {
            "charset": "utf8mb4",
            "isolation_level": "read committed",
            "connect_timeout": 3,
            "init_command": "SET sql_mode='STRICT_TRANS_TABLES,STRICT_ALL_TABLES,NO_ZERO_DATE,"
            "NO_ZERO_IN_DATE,ERROR_FOR_DIVISION_BY_ZERO,NO_ENGINE_SUBSTITUTION'",
        },
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTH_USER_MODEL = "people.User"
AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "django.contrib.auth.backends.ModelBackend",
]
PASSWORD_HASHERS = ["django.contrib.auth.hashers.Argon2PasswordHasher"]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator"},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
AXES_FAILURE_LIMIT = int(_env("THROTTLE", "8"))
AXES_COOLOFF_TIME = timedelta(minutes=10)
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_RESET_ON_SUCCESS = True
AXES_VERBOSE = False
AXES_IPWARE_PROXY_COUNT = int(_env("PROXIES", "0"))

SESSION_COOKIE_AGE = 60 * 60 * 24 * 30
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = _env("HTTPS") == "1"
SECURE_HSTS_SECONDS = 31_536_000 if SESSION_COOKIE_SECURE else 0
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
SECURE_CROSS_ORIGIN_OPENER_POLICY = "same-origin"
if int(_env("PROXIES", "0")):
    SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
X_FRAME_OPTIONS = "DENY"
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": ["'none'"],
        "script-src": ["'self'"],
        "style-src": ["'self'"],
        "img-src": ["'self'", "data:"],
        "font-src": ["'self'"],
        "connect-src": ["'self'"],
        "manifest-src": ["'self'"],
        "form-action": ["'self'"],
        "base-uri": ["'none'"],
        "frame-ancestors": ["'none'"],
    }
}
DATA_UPLOAD_MAX_MEMORY_SIZE = 2_000_000

USE_TZ = True
TIME_ZONE = "UTC"
LANGUAGE_CODE = "en"
USE_I18N = False

STATIC_URL = "/static/"
STATIC_ROOT = _env("STATIC_ROOT", str(BASE_DIR / "var" / "static"))
STATICFILES_DIRS = [WEB_DIST] if WEB_DIST.exists() else []
STORAGES = {"staticfiles": {"BACKEND": "whitenoise.storage.CompressedStaticFilesStorage"}}
WHITENOISE_ALLOW_ALL_ORIGINS = False


def _hashed(path: str, url: str) -> bool:
    return "/assets/" in url


WHITENOISE_IMMUTABLE_FILE_TEST = _hashed

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
}
