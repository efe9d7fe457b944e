"""Every page's routes, in the order in which an address is looked up."""

from fastapi import APIRouter

from yarekeel.web.compare import race
from yarekeel.web.compare import routes as compare
from yarekeel.web.parts import routes as parts
from yarekeel.web.pond import measure, tracks
from yarekeel.web.pond import routes as pond
from yarekeel.web.stages import routes as every_stage
from yarekeel.web.stages.afloat import routes as afloat
from yarekeel.web.stages.brief import routes as brief
from yarekeel.web.stages.drive import stand
from yarekeel.web.stages.fixes import binder, history
from yarekeel.web.stages.fixes import routes as fixes
from yarekeel.web.stages.shape import cutting, patterns
from yarekeel.web.stages.shape import routes as shape
from yarekeel.web.stages.stability import routes as stability
from yarekeel.web.stages.stability import sensor
from yarekeel.web.stages.trials import routes as trials
from yarekeel.web.stages.underway import routes as underway
from yarekeel.web.stages.weights import routes as weights
from yarekeel.web.stages.weights import scale
from yarekeel.web.yard import guide, need
from yarekeel.web.yard import routes as yard

ROUTERS: tuple[APIRouter, ...] = (
    yard.router,
    guide.router,
    need.router,
    parts.router,
    compare.router,
    race.router,
    patterns.router,
    cutting.router,
    binder.router,
    history.router,
    brief.router,
    afloat.router,
    stability.router,
    trials.router,
    fixes.router,
    shape.router,
    underway.router,
    weights.router,
    scale.router,
    sensor.router,
    stand.router,
    every_stage.router,
    pond.router,
    tracks.router,
    measure.router,
)
PHONES: APIRouter = pond.sheet_router
"""What phones ask for: they say numbers in the sheet's own units."""
