"""Django's command line for this project."""

import os
import sys

from django.core.exceptions import ImproperlyConfigured
from django.core.management import execute_from_command_line

if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "workshop.settings")
    os.environ.setdefault("PLAIN_SHANK_DB_TIMEOUT", "3600")  # a migration may take its time
    try:
        execute_from_command_line(sys.argv)
    except ImproperlyConfigured as problem:
        raise SystemExit(f"The settings are not complete: {problem}") from None
