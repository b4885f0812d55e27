"""The application's settings with a key for the tests."""

import os

os.environ.setdefault("PLAIN_SHANK_SECRET_KEY", "only for the tests")

from workshop.settings import *  # noqa: F403
