"""The application: guard, routes, errors, static files."""

import gc
import threading
import time
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path

from fastapi import Depends, FastAPI
from starlette.staticfiles import StaticFiles

from yarekeel import unit_names
from yarekeel.core.quantities import Seconds
from yarekeel.instruments.shelf import Shelf
from yarekeel.store.yard import Yard
from yarekeel.web import errors
from yarekeel.web.compare import race as race_routes
from yarekeel.web.compare import routes as compare_routes
from yarekeel.web.parts import routes as parts_routes
from yarekeel.web.pond import measure, tracks
from yarekeel.web.pond import routes as pond_routes
from yarekeel.web.security import Guard
from yarekeel.web.settings import Settings
from yarekeel.web.shared.speaking import in_readers_units
from yarekeel.web.stages import routes as stage_routes
from yarekeel.web.stages.afloat import routes as afloat_routes
from yarekeel.web.stages.brief import routes as brief_routes
from yarekeel.web.stages.drive import stand as stand_routes
from yarekeel.web.stages.fixes import binder as binder_routes
from yarekeel.web.stages.fixes import history as history_routes
from yarekeel.web.stages.fixes import routes as fixes_routes
from yarekeel.web.stages.shape import cutting as cutting_routes
from yarekeel.web.stages.shape import patterns as pattern_routes
from yarekeel.web.stages.shape import routes as shape_routes
from yarekeel.web.stages.shape.drafts import Drafts
from yarekeel.web.stages.stability import routes as stability_routes
from yarekeel.web.stages.stability import sensor as sensor_routes
from yarekeel.web.stages.trials import routes as trials_routes
from yarekeel.web.stages.underway import routes as underway_routes
from yarekeel.web.stages.weights import routes as weights_routes
from yarekeel.web.stages.weights import scale as scale_routes
from yarekeel.web.waiting import Patience
from yarekeel.web.yard import guide as guide_routes
from yarekeel.web.yard import need as need_routes
from yarekeel.web.yard import routes as yard_routes

STATIC = Path(__file__).parent / "static"
FIRST_PAGE: Seconds = 1.0


def _warmed() -> None:
    """What takes long to load and is soon needed is loaded once the first page was answered."""
    time.sleep(FIRST_PAGE)
    unit_names.warm_up()
    import scipy.sparse.csgraph  # noqa: F401 - loaded for those who come


def create_app(settings: Settings, yard: Yard, shelf: Shelf | None = None) -> FastAPI:
    """The application over a yard, with a shelf of instruments of its own."""

    @asynccontextmanager
    async def lifespan(_: FastAPI) -> AsyncIterator[None]:
        threading.Thread(target=_warmed, daemon=True).start()
        # What was loaded to start with stays for good: the collector need not look through it at every answer.
        gc.collect()
        gc.freeze()
        gc.enable()
        yield
        gc.unfreeze()

    app = FastAPI(title="Yare Keel", lifespan=lifespan, docs_url=None, redoc_url=None, openapi_url=None)
    app.state.yard = yard
    app.state.shelf = shelf or Shelf()
    app.state.drafts = Drafts()
    app.mount("/static", StaticFiles(directory=STATIC), name="static")
    stages = (
        pattern_routes,
        cutting_routes,
        binder_routes,
        history_routes,
        brief_routes,
        afloat_routes,
        stability_routes,
        trials_routes,
        fixes_routes,
        shape_routes,
        underway_routes,
        weights_routes,
    )
    spoken = [Depends(in_readers_units)]
    for routes in (
        yard_routes,
        guide_routes,
        need_routes,
        parts_routes,
        compare_routes,
        race_routes,
        *stages,
        scale_routes,
        sensor_routes,
        stand_routes,
        stage_routes,
    ):
        app.include_router(routes.router, dependencies=spoken)
    app.include_router(pond_routes.sheet_router)
    for routes in (pond_routes, tracks, measure):
        app.include_router(routes.router, dependencies=spoken)
    errors.install(app)
    app.add_middleware(Patience)
    app.add_middleware(Guard, hosts=settings.hosts)
    return app
