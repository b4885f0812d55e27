"""The application's settings with a key for the tests."""

import os

os.environ.setdefault("PLAIN_SHANK_SECRET_KEY", "only for the tests")
os.environ.setdefault("PLAIN_SHANK_DB_TIMEOUT", "60")  # a busy machine is not a frozen database

from workshop.settings import *  # noqa: F403

STATIC_ROOT = str(WEB_DIST)  # noqa: F405 (built by make test; whitenoise wants a folder that exists)
