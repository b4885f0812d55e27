"""The API, and the one page for everything else."""

from __future__ import annotations

from django.urls import path, re_path

from workshop.api import api
from workshop.calendars import calendar
from workshop.health import health, ready
from workshop.page import page, worker

urlpatterns = [
    path("api/", api.urls),
    path("calendar/<str:secret>.ics", calendar),
    path("health", health),
    path("ready", ready),
    path("sw.js", worker),
    re_path(r"^(?!api/|static/).*$", page),
]
