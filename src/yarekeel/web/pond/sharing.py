"""The application that the local network sees: pond sheets alone, each only for a phone that came in by its one-time link."""

import re
import time
from collections import deque
from pathlib import Path

from fastapi import FastAPI
from fastapi.responses import HTMLResponse, JSONResponse, RedirectResponse, Response
from starlette.concurrency import run_in_threadpool
from starlette.datastructures import Headers
from starlette.requests import cookie_parser
from starlette.responses import PlainTextResponse
from starlette.staticfiles import StaticFiles
from starlette.types import ASGIApp, Receive, Scope, Send

from yarekeel.core.errors import NotFound
from yarekeel.core.quantities import Seconds
from yarekeel.store.yard import Yard
from yarekeel.web import errors
from yarekeel.web.pond.routes import sheet_router
from yarekeel.web.security import Guard
from yarekeel.web.templating import render

COOKIE = "pond"
STATIC = Path(__file__).parent.parent / "static"
MOST_REFUSALS, MOST_REQUESTS = 20, 600
"""Of one address in a minute."""
MINUTE: Seconds = 60.0
MOST_ADDRESSES = 1000
_OPEN = re.compile(r"/(static/.*|enter/[^/]*|pond/worker\.js)")
_SHEET = re.compile(r"/pond/([^/]+)(/.*)?")
NOT_YOURS = "This needs a link from the bench: ask for one there, and open it on this phone."
TOO_OFTEN = "That was asked too often; wait a minute."


def create_pond_app(yard: Yard, hosts: frozenset[str], secure: bool) -> FastAPI:
    """Pond sheets for the local network. ``hosts`` are the names that it answers to."""
    app = FastAPI(title="Yare Keel: pond sheets", docs_url=None, redoc_url=None, openapi_url=None)
    app.state.yard = yard
    app.mount("/static", StaticFiles(directory=STATIC), name="static")
    app.include_router(sheet_router)

    @app.get("/enter/{secret}")
    def door(secret: str) -> HTMLResponse:
        """Asks before a link is used up: a preview of it in a message must not do that."""
        if not yard.sheets.is_waiting(secret):
            raise NotFound("This link was used already, has ended, or is too old; ask for a new one at the bench.")
        return HTMLResponse(render("pond/enter.html", secret=secret, secure=secure))

    @app.post("/enter/{secret}")
    def enter(secret: str) -> Response:
        session, code = yard.sheets.enter(secret)
        answer = RedirectResponse(f"/pond/{code}", 303)
        answer.set_cookie(COOKIE, session, max_age=7 * 86400, httponly=True, samesite="strict", secure=secure)
        return answer

    errors.install(app)
    app.add_middleware(Pass, yard=yard)
    app.add_middleware(Guard, hosts=hosts)
    return app


class Pass:
    """ASGI middleware: lets a session reach its own sheet, and nothing else; an address that is refused often waits."""

    def __init__(self, app: ASGIApp, yard: Yard) -> None:
        self.app, self.yard = app, yard
        self._refused: dict[str, deque[float]] = {}
        self._asked: dict[str, deque[float]] = {}

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        who = scope["client"][0] if scope.get("client") else ""
        if _often(self._asked, who, MOST_REQUESTS, counts=True) or _often(self._refused, who, MOST_REFUSALS, counts=False):
            await _said(scope, 429, TOO_OFTEN)(scope, receive, send)
            return
        if not await run_in_threadpool(self._may, scope):
            _often(self._refused, who, MOST_REFUSALS, counts=True)
            await _said(scope, 403, NOT_YOURS)(scope, receive, send)
            return

        async def counted(message: dict[str, object]) -> None:
            if message["type"] == "http.response.start" and message["status"] == 404 and scope["path"].startswith("/enter/"):
                _often(self._refused, who, MOST_REFUSALS, counts=True)
            await send(message)

        await self.app(scope, receive, counted)  # type: ignore[arg-type]

    def _may(self, scope: Scope) -> bool:
        if _OPEN.fullmatch(scope["path"]):
            return True
        asked = _SHEET.fullmatch(scope["path"])
        session = cookie_parser(Headers(scope=scope).get("cookie", "")).get(COOKIE, "")
        return bool(asked and session and self.yard.sheets.code_for(session) == asked[1])


def _often(seen: dict[str, "deque[float]"], who: str, most: int, *, counts: bool) -> bool:
    """Whether an address came so often within the last minute; ``counts`` adds this time."""
    if len(seen) > MOST_ADDRESSES:
        seen.clear()
    times, now = seen.setdefault(who, deque(maxlen=most)), time.monotonic()
    while times and now - times[0] > MINUTE:
        times.popleft()
    is_often = len(times) >= most
    if counts and not is_often:
        times.append(now)
    return is_often


def _said(scope: Scope, status: int, sentence: str) -> Response:
    if "application/json" in Headers(scope=scope).get("accept", ""):
        return JSONResponse({"message": sentence}, status)
    return PlainTextResponse(sentence, status)
