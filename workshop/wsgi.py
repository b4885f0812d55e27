"""The WSGI application that gunicorn serves."""

import os

from django.core.wsgi import get_wsgi_application

from workshop.environment import wanted

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "workshop.settings")
wanted(["SECRET_KEY"])
application = get_wsgi_application()
