"""The application: guard, routes, errors, static files."""

import gc
import importlib
import threading
import time
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path

from fastapi import Depends, FastAPI
from starlette.staticfiles import StaticFiles

from yarekeel import apart, unit_names
from yarekeel.core.quantities import Seconds
from yarekeel.instruments.shelf import Shelf
from yarekeel.store.yard import Yard
from yarekeel.web import errors
from yarekeel.web.memory import handed_back, large_blocks_by_themselves
from yarekeel.web.pages import PHONES, ROUTERS
from yarekeel.web.security import Guard
from yarekeel.web.settings import Settings
from yarekeel.web.shared.speaking import in_readers_units
from yarekeel.web.stages.shape.drafts import Drafts
from yarekeel.web.waiting import Patience

STATIC = Path(__file__).parent / "static"
FIRST_PAGE: Seconds = 1.0
SOON = ("scipy.sparse.csgraph", "scipy.optimize", "fpdf")
"""Libraries that take a tenth of a second and more to load."""


def _warmed() -> None:
    """What takes long to load and is soon needed is loaded once the first page was answered."""
    time.sleep(FIRST_PAGE)
    unit_names.warm_up()
    for name in SOON:
        importlib.import_module(name)
    apart.warm_up()


def create_app(settings: Settings, yard: Yard, shelf: Shelf | None = None) -> FastAPI:
    """The application over a yard, with a shelf of instruments of its own."""

    @asynccontextmanager
    async def lifespan(_: FastAPI) -> AsyncIterator[None]:
        large_blocks_by_themselves()
        threading.Thread(target=_warmed, daemon=True).start()
        threading.Thread(target=handed_back, args=(end := threading.Event(),), daemon=True).start()
        # What was loaded to start with stays for good: the collector need not look through it at every answer.
        gc.collect()
        gc.freeze()
        gc.enable()
        yield
        end.set()
        gc.unfreeze()

    app = FastAPI(title="Yare Keel", lifespan=lifespan, docs_url=None, redoc_url=None, openapi_url=None)
    app.state.yard = yard
    app.state.shelf = shelf or Shelf()
    app.state.drafts = Drafts()
    app.mount("/static", StaticFiles(directory=STATIC), name="static")
    spoken = [Depends(in_readers_units)]
    for router in ROUTERS:
        app.include_router(router, dependencies=spoken)
    app.include_router(PHONES)
    errors.install(app)
    app.add_middleware(Patience)
    app.add_middleware(Guard, hosts=settings.hosts, behind=settings.behind)
    return app
