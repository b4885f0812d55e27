"""What stands before everything: whose word about an address is believed, and a line in the log for each request."""

from __future__ import annotations

import contextvars
import ipaddress
import logging
import re
import secrets
from collections.abc import Callable, Sequence
from time import monotonic

from django.conf import settings
from django.http import HttpRequest, HttpResponse

Next = Callable[[HttpRequest], HttpResponse]
Networks = Sequence[ipaddress.IPv4Network | ipaddress.IPv6Network]
FORWARDED = ("HTTP_X_FORWARDED_FOR", "HTTP_X_FORWARDED_PROTO", "HTTP_X_FORWARDED_HOST", "HTTP_X_REQUEST_ID")
_ID = re.compile(r"[A-Za-z0-9-]{8,64}")
_SECRET = re.compile(r"^/calendar/.*")
#: Of which request, and of whom, a line of the log is.
request_id: contextvars.ContextVar[str] = contextvars.ContextVar("request_id", default="-")
person_id: contextvars.ContextVar[str] = contextvars.ContextVar("person_id", default="-")
log = logging.getLogger("workshop.requests")


def is_ours(address: str, proxies: Networks) -> bool:
    """Whether an address is one of the proxies."""
    try:
        seen = ipaddress.ip_address(address)
    except ValueError:
        return False
    return any(seen in network for network in proxies)


def address_of(remote: str, forwarded: str, proxies: Networks) -> str:
    """Who asks: the last of the forwarded addresses that no proxy of ours has, where a proxy of ours has sent it.

    What somebody who is no proxy says of itself is not believed, nor what stands before the first that is none.
    """
    if not is_ours(remote, proxies):
        return remote
    for said in reversed([part.strip() for part in forwarded.split(",") if part.strip()]):
        try:
            address = str(ipaddress.ip_address(said))
        except ValueError:
            return remote
        if not is_ours(address, proxies):
            return address
    return remote


class Front:
    """Takes away what only a proxy of ours may say, and gives each request a name that its lines in the log carry."""

    def __init__(self, get_response: Next) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer a request, and say in the log how it went."""
        if not is_ours(str(request.META.get("REMOTE_ADDR", "")), settings.PROXY_ADDRESSES):
            for name in FORWARDED:
                request.META.pop(name, None)
        said = str(request.META.get("HTTP_X_REQUEST_ID", ""))
        name = said if _ID.fullmatch(said) else secrets.token_hex(8)
        # they stay until the thread's next request: Django writes a line about an answer after this has returned it
        request_id.set(name)
        person_id.set("-")
        begun = monotonic()
        response = self.get_response(request)
        response["X-Request-Id"] = name
        took = (monotonic() - begun) * 1000
        path = _SECRET.sub("/calendar/…", request.path)
        log.info("%s %.200s %d %.0f ms", request.method, path, response.status_code, took)
        return response


class WithRequest(logging.Filter):
    """Lets each line of the log say of which request it is, and of whom."""

    def filter(self, record: logging.LogRecord) -> bool:
        """Add both."""
        record.request_id, record.person_id = request_id.get(), person_id.get()
        return True
