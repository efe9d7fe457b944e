"""Answers that take long: the page says at once that it is being worked out, how far it has come, and can stop it.

Whatever is not answered within ``PATIENCE`` goes on by itself; the reader gets a page (or, where a script asked, a word) with a token, by
which it is watched, stopped and fetched. Work that nobody waits for any more is stopped: at once where its connection ends before that,
within a second of its page being closed after. What is being saved is not (``Work.may_stop``).
"""

import asyncio
import json
import secrets
import time
from collections.abc import AsyncIterator
from contextlib import suppress
from dataclasses import dataclass, field

from starlette.datastructures import Headers
from starlette.responses import HTMLResponse, JSONResponse, Response, StreamingResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from yarekeel.core.quantities import Seconds
from yarekeel.core.stopping import Stopped, Work, begin
from yarekeel.web.templating import render

PATIENCE: Seconds = 0.2
"""From which the reader is told."""
ALONE: Seconds = 0.9
"""After its page was closed, until the work is stopped: a page that is drawn anew is back by then."""
UNSEEN: Seconds = 6.0
"""After the reader was told, until work is stopped whose page never came."""
KEPT: Seconds = 60.0
"""That an answer nobody fetched is kept."""
TELLING: Seconds = 0.25
"""Between two words of how far it has come."""
ADDRESS = "/waiting/"
READS = ("GET", "HEAD")
WAITS = "x-waits"
"""The header of a script that knows how to wait."""
WENT_WRONG = "Something went wrong inside the program. Everything that was saved is safe; reload the page."


@dataclass(eq=False)
class Pending:
    """An answer on its way: its work, its messages so far, and who watches."""

    work: Work
    begun: float
    messages: list[Message] = field(default_factory=list)
    done: asyncio.Event = field(default_factory=asyncio.Event)
    told: float = 0.0
    watchers: int = 0
    seen: float = 0.0
    was_stopped: bool = False
    was_left: bool = False
    """Whether it ended early, and may be asked for again."""

    def state(self) -> str:
        """How far it is, as JSON."""
        return json.dumps({"words": self.work.words, "share": self.work.share, "seconds": round(time.monotonic() - self.begun, 1)})


class Patience:
    """ASGI middleware."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app
        self._pending: dict[str, Pending] = {}
        self._tasks: set[asyncio.Task[None]] = set()

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http" or scope["path"].startswith("/static/"):
            await self.app(scope, receive, send)
        elif scope["path"].startswith(ADDRESS):
            await (await self._watched(scope))(scope, receive, send)
        else:
            await self._answered(scope, receive, send)

    async def _answered(self, scope: Scope, receive: Receive, send: Send) -> None:
        asked = _Asked(scope, receive, send)
        worker = self._kept(asyncio.create_task(asked.work_out(self.app)))
        listener = self._kept(asyncio.create_task(asked.listen()))
        try:
            if not asked.can_wait:
                await worker
                return
            await asked.received.wait()
            started = asyncio.create_task(asked.started.wait())
            await asyncio.wait({worker, started}, timeout=PATIENCE, return_when=asyncio.FIRST_COMPLETED)
            started.cancel()
            if asked.started.is_set() or worker.done():
                await asked.pass_on()
                await worker
                return
            token = secrets.token_urlsafe(12)
            asked.pending.told = time.monotonic()
            self._pending[token] = asked.pending
            self._kept(asyncio.create_task(self._guarded(token, asked.pending)))
            asked.is_detached = True
            await _waiting(token, by_script=asked.by_script)(scope, receive, send)
        finally:
            listener.cancel()
            if not asked.is_detached and not worker.done():  # cut off from outside: the program ends
                worker.cancel()

    def _kept(self, task: "asyncio.Task[None]") -> "asyncio.Task[None]":
        self._tasks.add(task)
        task.add_done_callback(self._forget)
        return task

    def _forget(self, task: "asyncio.Task[None]") -> None:
        self._tasks.discard(task)
        if not task.cancelled():
            task.exception()  # looked at: what went wrong was logged and answered where it happened

    async def _guarded(self, token: str, pending: Pending) -> None:
        """Stop what nobody watches, and forget what nobody fetches."""
        while not pending.done.is_set():
            await asyncio.sleep(TELLING)
            alone = time.monotonic() - (pending.seen or pending.told)
            if not pending.watchers and alone > (ALONE if pending.seen else UNSEEN):
                pending.work.stop()
        await asyncio.sleep(KEPT)
        self._pending.pop(token, None)

    async def _watched(self, scope: Scope) -> Response:
        token, _, what = scope["path"][len(ADDRESS) :].partition("/")
        pending = self._pending.get(token)
        if pending is None:
            return JSONResponse({"message": "This is no longer being worked out; load the page again."}, 404)
        if what == "events":
            return StreamingResponse(_told(pending), media_type="text/event-stream", headers={"x-accel-buffering": "no"})
        if what == "stop" and scope["method"] == "POST":
            pending.was_stopped = True
            pending.work.stop()
            return JSONResponse({"stopped": True})
        if what == "answer":
            await pending.done.wait()
            self._pending.pop(token, None)
            return _replayed(pending.messages)
        return JSONResponse({"message": "There is no such page."}, 404)


class _Asked:
    """A request on its way through: its body is listened to, its answer is held back until it is known who gets it."""

    def __init__(self, scope: Scope, receive: Receive, send: Send) -> None:
        headers = Headers(scope=scope)
        self.scope, self._receive, self._send = scope, receive, send
        self.by_script = headers.get(WAITS) is not None
        self.can_wait = self.by_script or "text/html" in headers.get("accept", "")
        self.received, self.started = asyncio.Event(), asyncio.Event()
        self.is_detached = False
        self.is_through = not self.can_wait
        work = Work(may_stop=scope["method"] in READS)
        self.pending = Pending(work, time.monotonic())
        self._inbox: asyncio.Queue[Message] = asyncio.Queue(8)

    async def listen(self) -> None:
        """Take what comes from the reader; one that leaves stops the work."""
        while True:
            message = await self._receive()
            if message["type"] == "http.disconnect":
                self.pending.work.stop()
            await self._inbox.put(message)
            if message["type"] == "http.disconnect":
                self.received.set()
                return
            if not message.get("more_body", False):
                self.received.set()

    async def work_out(self, app: ASGIApp) -> None:
        """The application's own answer."""
        try:
            with begin(self.pending.work):
                await app(self.scope, self._inbox.get, self._given)
        except Stopped:
            await self._said_stopped()
        except BaseExceptionGroup as group:  # what was sent piece by piece, and stopped in the middle
            if group.split(Stopped)[1] is not None:
                raise
            await self._said_stopped()
        finally:
            self.pending.done.set()
            self.received.set()

    async def _said_stopped(self) -> None:
        self.pending.was_left = self.scope["method"] in READS
        if self.started.is_set():
            return
        sentence = "It was stopped before it was worked out. Nothing was changed."
        if self.by_script:
            answer: Response = JSONResponse({"message": sentence}, 409)
        else:
            answer = HTMLResponse(render("shared/sorry.html", sentence=sentence, status=409), 409)
        with suppress(OSError):
            await answer(self.scope, self._inbox.get, self._given)

    async def _given(self, message: Message) -> None:
        if self.is_through:
            self.started.set()
            await self._send(message)
        else:
            self.pending.messages.append(message)
            self.started.set()

    async def pass_on(self) -> None:
        """Give the reader what there is, and the rest as it comes."""
        while self.pending.messages:
            await self._send(self.pending.messages.pop(0))
        self.is_through = True


def _waiting(token: str, *, by_script: bool) -> Response:
    if by_script:
        return JSONResponse({"waiting": token}, 202)
    return HTMLResponse(render("shared/waiting.html", token=token), 202, {"cache-control": "no-store"})


async def _told(pending: Pending) -> AsyncIterator[bytes]:
    pending.watchers += 1
    try:
        while not pending.done.is_set():
            yield f"data: {pending.state()}\n\n".encode()
            with suppress(TimeoutError):
                await asyncio.wait_for(pending.done.wait(), TELLING)
        end = {"page": _is_page(pending.messages), "again": pending.was_left and not pending.was_stopped}
        yield f"event: end\ndata: {json.dumps(end)}\n\n".encode()
    finally:
        pending.watchers -= 1
        pending.seen = time.monotonic()


def _is_page(messages: list[Message]) -> bool:
    """Whether an answer is a page, or leads to one; anything else is given to the browser as it is, to be kept or shown."""
    start = next((m for m in messages if m["type"] == "http.response.start"), None)
    if start is None:
        return True
    headers = Headers(raw=start["headers"])
    return "location" in headers or headers.get("content-type", "").startswith("text/html")


def _replayed(messages: list[Message]) -> Response:
    """A kept answer, to be sent."""
    start = next((m for m in messages if m["type"] == "http.response.start"), None)
    if start is None:
        return JSONResponse({"message": WENT_WRONG}, 500)
    answer = Response(b"".join(m.get("body", b"") for m in messages if m["type"] == "http.response.body"), start["status"])
    answer.raw_headers = list(start["headers"])
    return answer
