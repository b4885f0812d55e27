"""For whoever runs it: is it alive, and can it serve? Neither says anything of what is kept."""

from __future__ import annotations

from django.db import Error, connection
from django.db.migrations.executor import MigrationExecutor
from django.http import HttpRequest, JsonResponse
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_safe

from ringcraft import __version__
from workshop.core.tries import NOT_READY, code_of, whys_of
from workshop.safekeeping.status import backup_age_h


@never_cache
@require_safe
def health(request: HttpRequest) -> JsonResponse:
    """The process runs. Asks nothing of the database."""
    return JsonResponse({"alive": True, "version": __version__})


@never_cache
@require_safe
def ready(request: HttpRequest) -> JsonResponse:
    """It can serve: the database answers and is at this version. 503 with the reason where it is not."""
    try:
        executor = MigrationExecutor(connection)
        waiting = len(executor.migration_plan(executor.loader.graph.leaf_nodes()))
    except Error as problem:
        why = (
            f"No node serves: {whys_of(problem)}."
            if code_of(problem) == NOT_READY
            else "The database does not answer."
        )
        return JsonResponse({"ready": False, "why": why}, status=503)
    if waiting:
        return JsonResponse({"ready": False, "why": f"{waiting} migrations wait: run manage.py migrate."}, status=503)
    said: dict[str, object] = {"ready": True, "version": __version__}
    if _is_here(request):
        said["backup_age_h"] = backup_age_h()
    return JsonResponse(said)


def _is_here(request: HttpRequest) -> bool:
    """Whether this machine itself asks, and through no proxy: what a stranger need not know."""
    return request.META.get("REMOTE_ADDR") in ("127.0.0.1", "::1") and "X-Forwarded-For" not in request.headers
