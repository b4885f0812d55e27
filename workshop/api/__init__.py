"""The API: thin routers that parse, call ringcraft or an action, and answer."""

from __future__ import annotations

from workshop.api import (
    account,
    bench,
    catalogue,
    charts,
    customers,
    cutting,
    day,
    estimates,
    first,
    gauges,
    glossary,
    job_metal,
    jobs,
    joints,
    keeping,
    logbook,
    paper,
    people,
    photos,
    plan,
    practice,
    preferences,
    readings,
    session,
    stock,
    work,
    worth,
)
from workshop.api.door import ReadJson
from workshop.api.problems import BenchAPI, install
from workshop.api.signed_in import signed_in

api = BenchAPI(title="Plain Shank", version="1", docs_url=None, openapi_url=None, auth=signed_in, parser=ReadJson())
install(api)
api.add_router("/session", session.router)
api.add_router("/account", account.router)
api.add_router("/people", people.router)
api.add_router("/keeping", keeping.router)
api.add_router("/first", first.router)
api.add_router("/plan", plan.router)
api.add_router("/catalogue", catalogue.router)
api.add_router("/jobs", jobs.router)
api.add_router("/jobs", work.router)
api.add_router("/jobs", paper.router)
api.add_router("/jobs", photos.router)
api.add_router("/jobs", joints.router)
api.add_router("/jobs", estimates.router)
api.add_router("/jobs", job_metal.router)
api.add_router("/jobs", readings.router)
api.add_router("/jobs", practice.router)
api.add_router("/logbook", logbook.router)
api.add_router("/stock", stock.router)
api.add_router("/stock", cutting.router)
api.add_router("/worth", worth.router)
api.add_router("/batch", estimates.batch)
api.add_router("/slips", paper.slips)
api.add_router("/bench", bench.router)
api.add_router("/day", day.router)
api.add_router("/gauges", gauges.router)
api.add_router("/customers", customers.router)
api.add_router("/ways", preferences.router)
api.add_router("/glossary", glossary.router)
api.add_router("/charts", charts.router)
api.add_router("/conversion", gauges.conversion)
