"""The WSGI application that gunicorn serves."""

import os

from django.core.wsgi import get_wsgi_application

from workshop.environment import wanted
from workshop.nodes.skipped import forget

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "workshop.settings")
wanted(["SECRET_KEY"])
forget()  # read before the workers are forked: what one of them finds out of a node all of them know
application = get_wsgi_application()
