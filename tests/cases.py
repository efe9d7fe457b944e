"""Random and extreme boats for the solver, and an independent check that an answer is a minimum of energy."""

import math
import re
from collections.abc import Iterator

import numpy as np
from sqlmodel import Session, select

from tests.bodies import box, spheroid, tube, wigley
from yarekeel.core.geometry.attitude import Attitude, rotation
from yarekeel.core.geometry.flotation import Evaluator
from yarekeel.core.geometry.mesh import Mesh, joined
from yarekeel.core.hydrostatics.equilibrium import Equilibrium
from yarekeel.core.propulsion.drive import Battery, Drive, Motor
from yarekeel.demo.boats import reedwarden
from yarekeel.stages.design.design import Design, with_value
from yarekeel.store.documents import packed
from yarekeel.store.rows import SnapshotRow
from yarekeel.store.states import States


def shapes() -> list[Mesh]:
    """Nine shapes with corners, curves, one hull and two, and one that is lopsided."""
    rng = np.random.default_rng(7)
    ball = spheroid(1.0, 0.4, 0.3, 24, 16)
    lumps = Mesh(ball.vertices * (1 + 0.25 * rng.standard_normal((len(ball.vertices), 1)).clip(-1, 1)), ball.faces)
    skew = box(1.0, 0.4, 0.3)
    skewed = Mesh(skew.vertices + skew.vertices[:, [2]] * [[0.3, 0.4, 0.0]], skew.faces)
    twin = joined([box(1.0, 0.12, 0.2).moved((0, 0.3, 0)), box(1.0, 0.12, 0.2).moved((0, -0.3, 0))])
    outrigger = joined([wigley(1.2, 0.2, 0.2, 24, 8), box(0.6, 0.05, 0.08).moved((0.3, 0.35, 0.08))])
    return [box(1, 0.4, 0.3), box(1, 0.2, 0.6), wigley(1.5, 0.3, 0.2, 30, 10), ball, lumps, skewed, twin, outrigger, tube(1, 0.2, 24)]


def random_cases(count: int, seed: int, extreme: bool) -> Iterator[tuple[Mesh, float, tuple[float, float, float]]]:
    """(mesh, displaced volume, centre of gravity); extreme ones are nearly awash, nearly weightless, or loaded far outside."""
    rng = np.random.default_rng(seed)
    meshes = shapes()
    for index in range(count):
        mesh = meshes[index % len(meshes)]
        low, high = mesh.bounds
        if extreme:
            share = [0.002, 0.01, 0.99, 0.998, rng.uniform(0.05, 0.95)][index % 5]
            g = low + (high - low) * rng.uniform(-1.0, 2.0, 3)
        else:
            share = rng.uniform(0.08, 0.92)
            g = low + (high - low) * (0.5 + np.array([0.25, 0.25, 0.6]) * rng.uniform(-1, 1, 3))
        yield mesh, share * mesh.volume, (float(g[0]), float(g[1]), float(g[2]))


def energy(kernel: Evaluator, displaced: float, gravity: tuple[float, float, float], attitude: Attitude) -> float:
    """Potential energy over rho g at an attitude, from volumes alone (no gradient or Hessian is used)."""
    m = kernel.evaluate(rotation(attitude.heel, attitude.trim), -attitude.height_of(kernel.centre))
    return displaced * attitude.height_of(gravity) - m.mz


def is_minimum(kernel: Evaluator, displaced: float, result: Equilibrium, step: float = 2e-4) -> bool:
    """No neighbour 2e-4 of the size or rad away, in 26 directions, lies lower (but for rounding)."""
    at = result.attitude
    here = energy(kernel, displaced, result.gravity, at)
    slack = 1e-11 * displaced * kernel.half_extent
    rows = np.array(at.rows)
    for wx in (-step, 0, step):
        for wy in (-step, 0, step):
            angle = math.hypot(wx, wy)
            up = rows[2]
            if angle:
                s = math.sin(angle) / angle
                up = -wy * s * rows[0] + wx * s * rows[1] + math.cos(angle) * rows[2]
            heel, trim = math.atan2(up[1], up[2]), math.asin(max(-1.0, min(1.0, up[0])))
            height = at.origin_height + float((rows[2] - up) @ np.array(kernel.centre))
            for rise in (-step, 0, step):
                near = Attitude(heel, trim, height + rise * kernel.half_extent)
                if energy(kernel, displaced, result.gravity, near) < here - slack:
                    return False
    return True


def rated() -> Design:
    """The skimmer with motors that are known by their rated pull alone, as boats of earlier files are: 6.4 N and 9.5 A each."""
    motors = (
        Motor("Port motor", 6.4, (0.02, 0.165, 0.020), 9.5, "measured"),
        Motor("Starboard motor", 6.4, (0.02, -0.165, 0.020), 9.5, "measured"),
    )
    return with_value(reedwarden(), "drive", Drive(motors, Battery(14.8, 5.0, 15.0, 0.024)))


def rewritten(yard, old: str, new: str, revision: int | None = None) -> None:
    """Every kept state (or those of one revision) with some of its text replaced, as a newer program or a hand may leave it."""
    with Session(yard._engine) as session:
        rows = session.exec(select(SnapshotRow).order_by(SnapshotRow.id)).all()
        texts = {row.id: States().text(session, row.id) for row in rows}
        for row in rows:
            if revision in (None, row.revision_id):
                row.content, row.base_id, row.chain = packed(texts[row.id].replace(old, new)), None, 0
        for row in rows:
            if row.base_id is not None:
                row.content, row.base_id, row.chain = packed(texts[row.id]), None, 0
        session.commit()
    yard._states = States()


def whole_yard(client):
    """The yard once every card is worked out."""
    for boat in re.findall(r"/boats/(\d+)/card", client.get("/").text):
        assert client.get(f"/boats/{boat}/card").status_code == 200
    page = client.get("/")
    assert page.status_code == 200
    return page
