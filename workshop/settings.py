"""Settings, all of them from the environment where they differ between machines.

PLAIN_SHANK_SECRET_KEY   required outside the start command and the tests, which make their own
PLAIN_SHANK_DB_*         NAME, USER, PASSWORD, SOCKET, HOST, PORT of the MariaDB
PLAIN_SHANK_DB_HOST      one address, or the nodes of a group as host:port,host:port, the preferred first
PLAIN_SHANK_HOSTS        host names, comma separated (default: loopback)
PLAIN_SHANK_ORIGINS      trusted origins behind a balancer, comma separated
PLAIN_SHANK_HTTPS        1 when the balancer speaks HTTPS: secure cookies, HSTS
PLAIN_SHANK_DB_TIMEOUT   seconds to wait for the database before the answer is 503 (default 3; commands wait longer)
PLAIN_SHANK_PROXY_ADDRESSES  addresses or networks of our proxies: only what they say of an address is believed
PLAIN_SHANK_ERASURES     a file outside the database that says by number who was erased, for a restore
PLAIN_SHANK_HOLD         a file that, kept fresh, lets what changes anything be refused: an upgrade is under way
PLAIN_SHANK_IN_USE       a file that names the database in use: the process of another one writes nothing
PLAIN_SHANK_LOG          1: a line in the log for each request
PLAIN_SHANK_URL          where people reach it, for the links that the commands print
PLAIN_SHANK_PRICE_FEED   address of a feed of metal prices, read by the command read_prices (default: none)
PLAIN_SHANK_DEMO         "user:password" shown on the sign-in page in demo mode only
PLAIN_SHANK_THROTTLE     failed sign-ins before a pause (default 8)
PLAIN_SHANK_STATIC_ROOT  where collectstatic puts the front end (default var/static)
PLAIN_SHANK_FILE_STORAGE the class of Django's storage for photographs (default: in the database)
"""

from __future__ import annotations

from datetime import timedelta
from pathlib import Path

from workshop.environment import address, addresses, items, networks, origins, switch, text, whole

BASE_DIR = Path(__file__).resolve().parent.parent
WEB_DIST = BASE_DIR / "web" / "dist"


SECRET_KEY = text("SECRET_KEY")
DEBUG = False
ALLOWED_HOSTS = items("HOSTS", "127.0.0.1,localhost")
CSRF_TRUSTED_ORIGINS = origins("ORIGINS")
DEMO_SIGN_IN = text("DEMO")
PROXY_ADDRESSES = networks("PROXY_ADDRESSES")
PRICE_FEED = address("PRICE_FEED")
HOLD = text("HOLD")
ERASURES = text("ERASURES")
IN_USE = text("IN_USE")
PUBLIC_URL = text("URL", f"http://127.0.0.1:{text('PORT', '8420')}").rstrip("/")

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "axes",
    "csp",
    "django_otp",
    "django_otp.plugins.otp_totp",
    "django_otp.plugins.otp_static",
    "ninja",
    "workshop.core",
    "workshop.people",
    "workshop.gauges",
    "workshop.worth",
    "workshop.customers",
    "workshop.photos",
    "workshop.jobs",
    "workshop.stock",
    "workshop.logbook",
    "workshop.day",
    "workshop.safekeeping",
]
MIDDLEWARE = [
    "workshop.front.Front",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "workshop.api.door.Door",
    "workshop.api.again.DatabaseAway",
    "workshop.api.own.SeesOwn",
    "workshop.api.door.Sessions",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "workshop.api.door.Seen",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "workshop.api.again.Once",
    "axes.middleware.AxesMiddleware",
    "workshop.api.ways.ShopWays",
]
ROOT_URLCONF = "workshop.urls"
WSGI_APPLICATION = "workshop.wsgi.application"

# A frozen server must not hold a request: the check of a kept connection and a new one together stay under 5 s.
_SECONDS = whole("DB_TIMEOUT", 3, 1, 36_000)
_PORT = whole("DB_PORT", 3306, 1, 65_535) if text("DB_PORT").strip() else 3306
_ADDRESSES = addresses("DB_HOST", _PORT, beside="DB_SOCKET")
DATABASES = {
    "default": {
        "ENGINE": "workshop.nodes",
        "NAME": text("DB_NAME", "plain_shank"),
        "USER": text("DB_USER", "plain_shank"),
        "PASSWORD": text("DB_PASSWORD"),
        "HOST": text("DB_SOCKET") or _ADDRESSES[0][0],
        "PORT": "" if text("DB_SOCKET") else str(_ADDRESSES[0][1]),
        "NODES": _ADDRESSES if len(_ADDRESSES) > 1 else [],
        "CONN_MAX_AGE": 60,
        "CONN_HEALTH_CHECKS": True,
        "OPTIONS": {
            "charset": "utf8mb4",
            "isolation_level": "read committed",
            "connect_timeout": 1 if _SECONDS <= 4 else 10,
            "read_timeout": _SECONDS,
            "write_timeout": _SECONDS,
            # a lock that is held too long is said before the line to the server is given up
            "init_command": f"SET innodb_lock_wait_timeout={max(1, min(_SECONDS - 1, 50))}, "
            "sql_mode='STRICT_TRANS_TABLES,STRICT_ALL_TABLES,NO_ZERO_DATE,NO_ZERO_IN_DATE,"
            "ERROR_FOR_DIVISION_BY_ZERO,NO_ENGINE_SUBSTITUTION'",
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
AXES_FAILURE_LIMIT = whole("THROTTLE", 8, 1, 1000)
AXES_COOLOFF_TIME = timedelta(minutes=10)
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_RESET_ON_SUCCESS = True
AXES_VERBOSE = False
AXES_ENABLE_ACCESS_FAILURE_LOG = True  # what the two wider throttles count
AXES_USERNAME_CALLABLE = "workshop.people.throttle.counted_name"
AXES_CLIENT_IP_CALLABLE = "workshop.api.door.client_address"
AXES_LOCKOUT_CALLABLE = "workshop.api.door.locked_out"

SESSION_COOKIE_AGE = 60 * 60 * 24 * 30
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = switch("HTTPS")
SECURE_HSTS_SECONDS = 31_536_000 if SESSION_COOKIE_SECURE else 0
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
SECURE_CROSS_ORIGIN_OPENER_POLICY = "same-origin"
SECURE_SSL_REDIRECT = SESSION_COOKIE_SECURE
SECURE_REDIRECT_EXEMPT = [r"^health$", r"^ready$"]
if PROXY_ADDRESSES:  # what anybody else says of it is taken away at the front
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
        "worker-src": ["'self'"],
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
STATIC_ROOT = text("STATIC_ROOT", str(BASE_DIR / "var" / "static"))
STATICFILES_DIRS = [WEB_DIST] if WEB_DIST.exists() else []
STORAGES = {
    # photographs: in the database, unless another of Django's storages is configured for them
    "default": {"BACKEND": text("FILE_STORAGE", "workshop.photos.storage.DatabaseStorage")},
    "staticfiles": {"BACKEND": "whitenoise.storage.CompressedStaticFilesStorage"},
}
WHITENOISE_ALLOW_ALL_ORIGINS = False


def _hashed(path: str, url: str) -> bool:
    return "/assets/" in url


WHITENOISE_IMMUTABLE_FILE_TEST = _hashed

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "filters": {"request": {"()": "workshop.front.WithRequest"}},
    "formatters": {"line": {"format": "%(levelname)s %(request_id)s p%(person_id)s %(name)s %(message)s"}},
    "handlers": {"console": {"class": "logging.StreamHandler", "filters": ["request"], "formatter": "line"}},
    "loggers": {"workshop.requests": {"level": "INFO" if switch("LOG") else "WARNING"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
}
