"""The application's settings with a key for the tests, and a password hasher that costs nothing.

argon2, slow on purpose, is tested where accounts are (``argon2`` in ``tests/workshop/conftest.py``) and in the browser,
whose server runs with the application's own settings.
"""

import os

os.environ.setdefault("PLAIN_SHANK_SECRET_KEY", "only for the tests")
os.environ.setdefault("PLAIN_SHANK_DB_TIMEOUT", "60")  # a busy machine is not a frozen database
# a worker that drove a browser has an event loop in its thread; its database calls are as plain as ever
os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")

from workshop.settings import *  # noqa: F403

PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
STATIC_ROOT = str(WEB_DIST)  # noqa: F405 (built by make test; whitenoise wants a folder that exists)
