"""The application: guard, routes, errors, static files."""

import asyncio
import gc
import threading
import time
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path

from fastapi import APIRouter, Depends, FastAPI
from starlette.staticfiles import StaticFiles
from starlette.types import Receive, Scope, Send

from yarekeel import unit_names
from yarekeel.core.quantities import Seconds
from yarekeel.instruments.shelf import Shelf
from yarekeel.store.yard import Yard
from yarekeel.web import errors
from yarekeel.web.security import Guard
from yarekeel.web.settings import Settings
from yarekeel.web.shared.speaking import in_readers_units
from yarekeel.web.waiting import Patience
from yarekeel.web.yard import routes as yard_routes

STATIC = Path(__file__).parent / "static"
FIRST_PAGE: Seconds = 1.0
SPOKEN = [Depends(in_readers_units)]
"""Of every page: numbers are said in the reader's units."""


class Later:
    """The pages beyond the yard's list, which take as long to load as all else: loaded once it was shown, or when the first of them is
    asked for. What no page answers is then not found."""

    def __init__(self, app: FastAPI) -> None:
        self._app, self._lock, self._is_there = app, threading.Lock(), False
        self._not_found = app.router.default
        app.router.default = self

    def load(self) -> None:
        """Add their routes."""
        with self._lock:
            if self._is_there:
                return
            from yarekeel.web.pages import PHONES, ROUTERS
            from yarekeel.web.stages.shape.drafts import Drafts

            self._app.state.drafts = Drafts()
            pages = APIRouter()
            for router in ROUTERS:
                pages.include_router(router, dependencies=SPOKEN)
            pages.include_router(PHONES)
            self._app.include_router(pages)  # all at once: no address is answered by half of them
            self._is_there = True

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if self._is_there:
            await self._not_found(scope, receive, send)
        else:
            await asyncio.to_thread(self.load)
            await self._app.router(scope, receive, send)


def _warmed(later: Later) -> None:
    """What takes long to load and is soon needed is loaded once the first page was answered."""
    time.sleep(FIRST_PAGE)
    later.load()
    unit_names.warm_up()
    import scipy.sparse.csgraph  # noqa: F401 - loaded for those who come


def create_app(settings: Settings, yard: Yard, shelf: Shelf | None = None) -> FastAPI:
    """The application over a yard, with a shelf of instruments of its own."""

    @asynccontextmanager
    async def lifespan(_: FastAPI) -> AsyncIterator[None]:
        threading.Thread(target=_warmed, args=(later,), daemon=True).start()
        # What was loaded to start with stays for good: the collector need not look through it at every answer.
        gc.collect()
        gc.freeze()
        gc.enable()
        yield
        gc.unfreeze()

    app = FastAPI(title="Yare Keel", lifespan=lifespan, docs_url=None, redoc_url=None, openapi_url=None)
    app.state.yard = yard
    app.state.shelf = shelf or Shelf()
    app.mount("/static", StaticFiles(directory=STATIC), name="static")
    app.include_router(yard_routes.router, dependencies=SPOKEN)
    app.state.later = later = Later(app)
    errors.install(app)
    app.add_middleware(Patience)
    app.add_middleware(Guard, hosts=settings.hosts)
    return app
