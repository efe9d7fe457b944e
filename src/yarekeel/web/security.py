"""What every answer carries and every request must pass: known Host, no other site's doing, size, time, security headers."""

import asyncio
import re
import time

from starlette.datastructures import Headers, MutableHeaders
from starlette.responses import PlainTextResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from yarekeel.core.quantities import Seconds
from yarekeel.exchange.mesh_in import LARGEST_FILE

MOST_BODY = 8_000_000
"""Bytes of a request."""
MOST_UPLOAD = LARGEST_FILE + 1_000_000
"""Bytes of a request that brings a mesh."""
LONGEST_ADDRESS = 8_000
"""Characters of an address with its questions."""
SLOWEST: Seconds = 20.0
"""Between two pieces of a body, and for a whole small one."""
LEAST_RATE = 50_000
"""Bytes a second that a large body comes with at least."""

_POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src 'self'; "
    "manifest-src 'self'; worker-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"
)
_HEADERS = {
    "content-security-policy": _POLICY,
    "x-content-type-options": "nosniff",
    "referrer-policy": "same-origin",
    "cross-origin-opener-policy": "same-origin",
    "cross-origin-resource-policy": "same-origin",
    "permissions-policy": "camera=(), microphone=(), geolocation=()",
}


_UPLOADS = re.compile(r"/boats/\d+/[A-Z]+/(mesh|weights/\d+/photo|pond/[^/]+/(readings|tracks))|/boats/import|/pond/[^/]+/entries")
_HUGE_NUMBER = re.compile(r"/\d{13,}(/|$)")
"""No boat, line or part is counted so far, nor could the database."""
_OWN = "Changes are accepted only from this program's own pages."
_FOREIGN = "This was asked for by another site's page; open the address that the program printed."


def _most(scope: Scope) -> int:
    return MOST_UPLOAD if _UPLOADS.fullmatch(scope["path"]) else MOST_BODY


class Guard:
    """ASGI middleware. Refusals are one plain sentence."""

    def __init__(self, app: ASGIApp, hosts: frozenset[str], behind: str = "") -> None:
        self.app, self.hosts, self.behind = app, hosts, behind

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        headers = Headers(scope=scope)
        head_only = scope["method"] == "HEAD"
        if head_only:  # answered as GET is, without the body
            scope = {**scope, "method": "GET"}

        body = _Body(receive, headers, _most(scope))

        async def guarded_send(message: Message) -> None:
            if message["type"] == "http.response.start":
                out = MutableHeaders(scope=message)
                for name, value in _HEADERS.items():
                    out[name] = value
                if not body.whole:  # who was answered before all had come may go on sending it for ever
                    out["connection"] = "close"
                if not scope["path"].startswith("/static/"):
                    out["cache-control"] = "no-store"
            elif head_only and message["type"] == "http.response.body":
                message = {**message, "body": b""}
            await send(message)

        refusal = self._refusal(scope, headers)
        if refusal is not None:
            await PlainTextResponse(refusal[1], refusal[0])(scope, receive, guarded_send)
            return
        await self.app(scope, body, guarded_send)

    def _refusal(self, scope: Scope, headers: Headers) -> tuple[int, str] | None:
        host = headers.get("host", "")
        if host.rsplit(":", 1)[0] not in self.hosts and not self._is_public(host):
            return 421, "This address is not served here; open the address that the program printed."
        if _HUGE_NUMBER.search(scope["path"]):
            return 404, "There is no such page."
        if len(scope["path"]) + len(scope["query_string"]) > LONGEST_ADDRESS:
            return 414, "That address is longer than any of this program's."
        if scope["method"] == "GET":
            return (403, _FOREIGN) if _is_foreign(headers) else None
        return self._refused_change(scope, headers, host)

    def _is_public(self, host: str) -> bool:
        """Whether a Host header is that of the address a reverse proxy serves this program at."""
        return bool(self.behind) and host == self.behind.partition("://")[2]

    def _refused_change(self, scope: Scope, headers: Headers, host: str) -> tuple[int, str] | None:
        origin = headers.get("origin")
        own = self.behind if self._is_public(host) else f"{scope['scheme']}://{host}"
        if origin is not None and origin != own:
            return 403, _OWN
        if origin is None and headers.get("sec-fetch-site", "same-origin") not in ("same-origin", "none"):
            return 403, _OWN
        length = headers.get("content-length", "0")
        if not length.isdecimal() or len(length) > 12 or int(length) > _most(scope):
            return 413, f"That is more than {_most(scope) // 1_000_000} MB; nothing was changed."
        return None


def _is_foreign(headers: Headers) -> bool:
    """Whether another site's page asks for something here by itself. A person who follows a link there may come in."""
    if headers.get("sec-fetch-site", "none") in ("none", "same-origin"):
        return False
    return not (
        headers.get("sec-fetch-mode") == "navigate"
        and headers.get("sec-fetch-dest") == "document"
        and headers.get("sec-fetch-user") == "?1"
    )


class _Body:
    """A body as it comes: counted where it was sent without a length, and ended at the limit, or where it comes too slowly."""

    def __init__(self, receive: Receive, headers: Headers, most: int) -> None:
        self.receive, self.most = receive, most
        self.seen, self.begun = 0, time.monotonic()
        self.whole = "transfer-encoding" not in headers and headers.get("content-length", "0") == "0"

    async def __call__(self) -> Message:
        if self.whole:
            return await self.receive()  # only that the reader leaves can come now
        if time.monotonic() - self.begun > SLOWEST + self.seen / LEAST_RATE:
            return {"type": "http.disconnect"}
        try:
            message = await asyncio.wait_for(self.receive(), SLOWEST)
        except TimeoutError:
            return {"type": "http.disconnect"}
        if message["type"] == "http.request":
            self.seen += len(message.get("body", b""))
            self.whole = not message.get("more_body", False)
            if self.seen > self.most:
                return {"type": "http.disconnect"}
        return message
