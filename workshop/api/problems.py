"""One shape for everything that goes wrong, mapped in one place."""

from __future__ import annotations

from typing import Any

from django.core.exceptions import ObjectDoesNotExist
from django.http import HttpRequest, HttpResponse
from ninja import NinjaAPI, Schema
from ninja.errors import AuthenticationError, HttpError, ValidationError, ValidationErrorContext

from ringcraft.border import craft_error
from ringcraft.errors import BadRequest, CraftError
from ringcraft.styles import STYLES
from workshop.customers.actions import StaleCustomer
from workshop.jobs.actions import StaleJob


class Mistake(Schema):
    """One error at one field, in the craft's words."""

    field: str
    message: str
    hint: str


class Problem(Schema):
    """What the API answers when it cannot do what was asked."""

    errors: list[Mistake]


class Conflict(Problem):
    """A stale save: the version that stands, and what differs from what was sent."""

    version: int
    changed: list[str]


def mistakes(errors: list[CraftError]) -> dict[str, Any]:
    """The body of an answer for craft errors."""
    return {"errors": [error.as_dict() for error in errors]}


def say(message: str, hint: str = "", field: str = "") -> dict[str, Any]:
    """The body of an answer for one mistake."""
    return mistakes([CraftError(field, message, hint)])


class BenchAPI(NinjaAPI):
    """A NinjaAPI that keeps the craft's own errors, which ninja would turn into plain text."""

    def validation_error_from_error_contexts(
        self, error_contexts: list[ValidationErrorContext[Any]]
    ) -> ValidationError:
        """Every error of a request, with the CraftError behind it where there is one."""
        return ValidationError(
            [
                {**error, "loc": (context.model.__ninja_param_source__, *error["loc"])}
                for context in error_contexts
                for error in context.pydantic_validation_error.errors(include_url=False)
            ]
        )


def install(api: NinjaAPI) -> None:
    """Map every known failure to its answer."""

    @api.exception_handler(BadRequest)
    def bad_request(request: HttpRequest, problem: BadRequest) -> HttpResponse:
        return api.create_response(request, mistakes(problem.errors), status=422)

    @api.exception_handler(CraftError)
    def craft(request: HttpRequest, problem: CraftError) -> HttpResponse:
        return api.create_response(request, mistakes([problem]), status=422)

    @api.exception_handler(ValidationError)
    def invalid(request: HttpRequest, problem: ValidationError) -> HttpResponse:
        errors = [craft_error({**error, "loc": _loc(error["loc"])}, STYLES) for error in problem.errors]
        return api.create_response(request, mistakes(errors), status=422)

    @api.exception_handler(StaleJob)
    def stale(request: HttpRequest, problem: StaleJob) -> HttpResponse:
        body = say("Somebody saved this job meanwhile.", "Yours is kept here: look at theirs, then save again.")
        body |= {"version": problem.job.version, "changed": problem.changed}
        return api.create_response(request, body, status=409)

    @api.exception_handler(StaleCustomer)
    def stale_customer(request: HttpRequest, problem: StaleCustomer) -> HttpResponse:
        body = say("Somebody changed this customer meanwhile.", "Yours is kept here: read theirs, then save again.")
        body |= {"version": problem.customer.version, "changed": ["name", "note"]}
        return api.create_response(request, body, status=409)

    @api.exception_handler(ObjectDoesNotExist)
    def missing(request: HttpRequest, problem: ObjectDoesNotExist) -> HttpResponse:
        return api.create_response(request, say("There is no such thing in this workshop."), status=404)

    @api.exception_handler(AuthenticationError)
    def nobody(request: HttpRequest, problem: AuthenticationError) -> HttpResponse:
        return api.create_response(request, say("You are signed out.", "Sign in; nothing is lost."), status=401)

    @api.exception_handler(HttpError)
    def plain(request: HttpRequest, problem: HttpError) -> HttpResponse:
        return api.create_response(request, say(str(problem)), status=problem.status_code)


def _loc(loc: tuple[Any, ...]) -> tuple[Any, ...]:
    """The place of an error inside the body, without the names of the parameters around it."""
    return tuple(loc[2:]) if loc[:1] == ("body",) else tuple(loc[-1:])
