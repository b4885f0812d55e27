"""One shape for everything that goes wrong, mapped in one place."""

from __future__ import annotations

import json
import re
from collections.abc import Container
from datetime import datetime
from typing import Any

from django.core.exceptions import ObjectDoesNotExist
from django.http import HttpRequest, HttpResponse, JsonResponse
from ninja import NinjaAPI, Schema
from ninja.errors import AuthenticationError, HttpError, ValidationError, ValidationErrorContext
from ninja.openapi.schema import OpenAPISchema

from ringcraft.errors import BadRequest, CraftError
from ringcraft.schema import craft_error
from ringcraft.styles import STYLES
from workshop.core.saving import Stale
from workshop.people.factor import TooSoon
from workshop.people.models import User
from workshop.people.roles import ACTS, NotAllowed, sees_prices

KINDS = {
    400: "unreadable",
    401: "signed-out",
    403: "forbidden",
    404: "missing",
    405: "not-done-here",
    409: "stale",
    413: "too-large",
    422: "refused",
    429: "too-many",
    500: "broken",
    503: "away",
}
SAID = {
    400: ("This request cannot be read.", "Load the page again."),
    403: ("This page is out of date.", "Load it again; what you typed is kept on this device."),
    404: ("There is no such thing in this workshop.", ""),
    405: ("That cannot be done with this.", ""),
    413: ("That is too large to take in.", "At most 2 MB."),
    429: ("Too many tries.", "Wait ten minutes, then try again."),
    500: ("Something broke here; it has been written down.", "What you typed is kept on this device."),
    503: ("The record book cannot be reached just now.", "What you typed is kept on this device; it is tried again."),
}
SOMEBODY_ELSE = "somebody-else"
NOT_ALLOWED, OTHER_SIGHT = "not-allowed", "other-sight"


class Mistake(Schema):
    """One error at one field, in the craft's words."""

    field: str
    message: str
    hint: str


class Problem(Schema):
    """What the API answers when it cannot do what was asked; ``kind`` says of which kind it is."""

    kind: str
    errors: list[Mistake]


class Conflict(Problem):
    """A stale save: the version that stands, its fields, which of them differ from what was sent, whose they are."""

    version: int
    theirs: dict[str, Any]
    changed: list[str]
    by: str
    at: datetime | None


def problem_body(status: int, errors: list[CraftError], kind: str = "") -> dict[str, Any]:
    """The body of a problem."""
    return {"kind": kind or KINDS.get(status, "refused"), "errors": [error.as_dict() for error in errors]}


def say(status: int, message: str = "", hint: str = "", field: str = "", kind: str = "") -> dict[str, Any]:
    """The body of a problem of one mistake; without words, those that every problem of this status has."""
    usual = SAID.get(status, ("That cannot be done.", ""))
    return problem_body(status, [CraftError(field, message or usual[0], hint or ("" if message else usual[1]))], kind)


def problem_answer(status: int, message: str = "", hint: str = "", field: str = "", kind: str = "") -> HttpResponse:
    """A whole answer of one mistake, for what is answered outside the API's own views."""
    return JsonResponse(say(status, message, hint, field, kind), status=status)


def is_problem(response: HttpResponse) -> bool:
    """Whether an answer already has the one shape."""
    if not response.get("Content-Type", "").startswith("application/json"):
        return False
    try:
        data = json.loads(response.content)
    except ValueError:
        return False
    return isinstance(data, dict) and "errors" in data and "kind" in data


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

    def get_openapi_schema(self, **options: Any) -> OpenAPISchema:
        """The schema; whatever goes wrong at any operation is its one ``default`` response, of the one shape."""
        schema = super().get_openapi_schema(**options)
        schemas = schema["components"]["schemas"]
        for shape in (Problem, Conflict):
            made = shape.model_json_schema(ref_template="#/components/schemas/{model}")
            for name, part in made.pop("$defs", {}).items():
                schemas.setdefault(name, part)
            schemas.setdefault(shape.__name__, made)
        shapes = [{"$ref": f"#/components/schemas/{shape.__name__}"} for shape in (Conflict, Problem)]
        said = "; ".join(f"{status} {kind}" for status, kind in KINDS.items())
        content = {"application/json": {"schema": {"anyOf": shapes}}}
        schema["components"].setdefault("responses", {})["Problem"] = {"description": said, "content": content}
        for operations in schema["paths"].values():
            for operation in operations.values():
                answers = operation["responses"]
                operation["responses"] = {
                    **{str(status): one for status, one in answers.items() if int(status) not in KINDS},
                    "default": {"$ref": "#/components/responses/Problem"},
                }
        schema["info"]["description"] = "Generated from the code by make types: changed there, never here."
        _require_answers(schema)
        return schema


def _require_answers(schema: dict[str, Any]) -> None:
    """An answer has all its fields, those with a default too: say so of every shape that no request has."""
    schemas = schema["components"]["schemas"]
    asked: set[str] = set()
    left = [str(operation.get("requestBody", "")) for ops in schema["paths"].values() for operation in ops.values()]
    while left:
        found = set(re.findall(r"#/components/schemas/(\w+)", left.pop())) - asked
        asked |= found
        left += [str(schemas[name]) for name in found]
    for name, shape in schemas.items():
        if name not in asked and "properties" in shape:
            shape["required"] = sorted(shape["properties"])


def install(api: NinjaAPI) -> None:
    """Map every known failure to its answer."""

    def answer(request: HttpRequest, status: int, body: dict[str, Any]) -> HttpResponse:
        return api.create_response(request, body, status=status)

    @api.exception_handler(BadRequest)
    def bad_request(request: HttpRequest, problem: BadRequest) -> HttpResponse:
        return answer(request, 422, problem_body(422, problem.errors))

    @api.exception_handler(CraftError)
    def craft(request: HttpRequest, problem: CraftError) -> HttpResponse:
        return answer(request, 422, problem_body(422, [problem]))

    @api.exception_handler(ValidationError)
    def invalid(request: HttpRequest, problem: ValidationError) -> HttpResponse:
        # the union of styles names its tag in a path; a resize has none, and one of its fields is called like a style
        tags: Container[str] = () if request.path.endswith("/resize") else STYLES
        errors = [craft_error({**error, "loc": _loc(error["loc"])}, tags) for error in problem.errors]
        return answer(request, 422, problem_body(422, errors))

    @api.exception_handler(Stale)
    def stale(request: HttpRequest, problem: Stale) -> HttpResponse:
        who = problem.by or "Somebody"
        body = say(409, f"{who} saved this meanwhile.", "Yours is kept here: choose field by field, then save again.")
        hidden = frozenset(("price",)) if not _sees_prices(request) else frozenset[str]()
        theirs = {name: value for name, value in problem.theirs.items() if name not in hidden}
        more = {"version": problem.version, "theirs": theirs, "changed": [n for n in problem.changed if n in theirs]}
        return answer(request, 409, {**body, **more, "by": problem.by, "at": problem.at})

    @api.exception_handler(NotAllowed)
    def not_allowed(request: HttpRequest, problem: NotAllowed) -> HttpResponse:
        said = f"Your part here is not to {ACTS[problem.act]}."
        return answer(
            request, 403, say(403, said, "An owner of the workshop can do it, or change that.", "", NOT_ALLOWED)
        )

    @api.exception_handler(TooSoon)
    def too_soon(request: HttpRequest, problem: TooSoon) -> HttpResponse:
        body = say(429, "A wrong code was given a moment ago.", "Wait a little, then give it again.", "code")
        return answer(request, 429, body)

    @api.exception_handler(ObjectDoesNotExist)
    def missing(request: HttpRequest, problem: ObjectDoesNotExist) -> HttpResponse:
        return answer(request, 404, say(404))

    @api.exception_handler(AuthenticationError)
    def nobody(request: HttpRequest, problem: AuthenticationError) -> HttpResponse:
        return answer(request, 401, say(401, "You are signed out.", "Sign in; nothing is lost."))

    @api.exception_handler(HttpError)
    def plain(request: HttpRequest, problem: HttpError) -> HttpResponse:
        kind = SOMEBODY_ELSE if str(problem) == SOMEBODY_ELSE else ""
        if kind:
            body = say(403, "Somebody else is signed in here now.", "This screen is cleared.", kind=kind)
        else:
            body = say(problem.status_code)
        return answer(request, problem.status_code, body)


def _sees_prices(request: HttpRequest) -> bool:
    return isinstance(request.user, User) and sees_prices(request.user)


def _loc(loc: tuple[Any, ...]) -> tuple[Any, ...]:
    """The place of an error inside the body, without the names of the parameters around it."""
    return tuple(loc[2:]) if loc[:1] == ("body",) else tuple(loc[-1:])
