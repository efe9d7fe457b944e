"""What every answer carries and every request must pass: known Host, same origin for writes, size, security headers."""

import re

from starlette.datastructures import Headers, MutableHeaders
from starlette.responses import PlainTextResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from yarekeel.exchange.mesh_in import LARGEST_FILE

MOST_BODY = 8_000_000
"""Bytes of a request."""
MOST_UPLOAD = LARGEST_FILE + 1_000_000
"""Bytes of a request that brings a mesh."""

_POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src 'self'; "
    "form-action 'self'; base-uri 'none'; frame-ancestors 'none'"
)
_HEADERS = {
    "content-security-policy": _POLICY,
    "x-content-type-options": "nosniff",
    "referrer-policy": "same-origin",
    "cross-origin-opener-policy": "same-origin",
    "cross-origin-resource-policy": "same-origin",
    "permissions-policy": "camera=(), microphone=(), geolocation=()",
}


_UPLOADS = re.compile(r"/boats/\d+/[A-Z]+/(mesh|weights/\d+/photo)|/boats/import")


def _most(scope: Scope) -> int:
    return MOST_UPLOAD if _UPLOADS.fullmatch(scope["path"]) else MOST_BODY


class Guard:
    """ASGI middleware. Refusals are one plain sentence."""

    def __init__(self, app: ASGIApp, hosts: frozenset[str]) -> None:
        self.app, self.hosts = app, hosts

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        headers = Headers(scope=scope)

        async def guarded_send(message: Message) -> None:
            if message["type"] == "http.response.start":
                out = MutableHeaders(scope=message)
                for name, value in _HEADERS.items():
                    out[name] = value
                if not scope["path"].startswith("/static/"):
                    out["cache-control"] = "no-store"
            await send(message)

        refusal = self._refusal(scope, headers)
        if refusal is not None:
            await PlainTextResponse(refusal[1], refusal[0])(scope, receive, guarded_send)
            return
        await self.app(scope, _limited(receive, _most(scope)), guarded_send)

    def _refusal(self, scope: Scope, headers: Headers) -> tuple[int, str] | None:
        host = headers.get("host", "")
        if host.rsplit(":", 1)[0] not in self.hosts:
            return 421, "This address is not served here; open the address that the program printed."
        if scope["method"] not in ("GET", "HEAD"):
            origin = headers.get("origin")
            if origin is not None and origin != f"{scope['scheme']}://{host}":
                return 403, "Changes are accepted only from this program's own pages."
            if origin is None and headers.get("sec-fetch-site", "same-origin") not in ("same-origin", "none"):
                return 403, "Changes are accepted only from this program's own pages."
            length = headers.get("content-length", "0")
            if not length.isdigit() or int(length) > _most(scope):
                return 413, f"That is more than {_most(scope) // 1_000_000} MB; nothing was changed."
        return None


def _limited(receive: Receive, most: int) -> Receive:
    """Counts a body sent without a length, and ends it at the limit."""
    seen = 0

    async def counted() -> Message:
        nonlocal seen
        message = await receive()
        if message["type"] == "http.request":
            seen += len(message.get("body", b""))
            if seen > most:
                return {"type": "http.disconnect"}
        return message

    return counted
