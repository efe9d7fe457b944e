"""A hull modelled with an inside: brought in the right way up, floated by the command line too, its rim corrected; bodies drawn clean."""

import dataclasses
import json
import re

import numpy as np
import pytest
import trimesh

from tests.cli.test_commands import run
from tests.core.test_rim import hollow_box
from tests.stages.rafts import raft
from yarekeel.core.geometry.families import MeshFile
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.weights.items import WeightItem
from yarekeel.demo.boats import moorhen, turnstone
from yarekeel.drawing import tank
from yarekeel.exchange.mending import Inspection
from yarekeel.exchange.mesh_out import write
from yarekeel.stages.afloat import afloat
from yarekeel.stages.design import editing
from yarekeel.stages.design.craft import Craft
from yarekeel.web.stages.shape.drafts import Draft


@pytest.mark.parametrize("over", [1.0, -1.0], ids=["upright", "upside down"])
def test_the_way_up_that_holds_water_is_offered_first(over):
    """2 x 0.6 x 0.3 m as 2000 x 600 x 300 units, the opening up or down."""
    tub = hollow_box().scaled(1000.0)
    vertices = tub.vertices * [1.0, over, over]  # turned about its length
    draft = Draft("tub", Inspection(Mesh(vertices, tub.faces), None))
    unit, forward, up = draft.guess()
    assert (unit, forward, up) == ("mm", "+x", "+z" if over > 0 else "-z")
    assert draft.skin(forward, up).volume == pytest.approx(0.36e9, rel=1e-3)


def test_the_command_line_floats_the_outer_skin_and_says_so(tmp_path, monkeypatch, capsys):
    """Walls of 20 mm weigh nothing here: 60 kg on the outside of 2 x 0.6 m float at 60 / 1200 m."""
    (tmp_path / "tub.stl").write_bytes(write(hollow_box(), "stl"))
    data = {
        "format": "yare-keel-boat", "version": 4, "name": "Tub", "water": {"density_kg_m3": 1000.0},
        "bodies": [{"name": "hull", "deck": "open", "shape": {"kind": "mesh", "file": "tub.stl", "unit": "mm"}}],
        "weights": [{"name": "all", "mass_kg": 60.0, "at_m": [1.0, 0.0, 0.05]}],
    }  # fmt: skip
    path = tmp_path / "boat.json"
    path.write_text(json.dumps(data))
    code, out, _ = run(monkeypatch, capsys, "float", str(path), "--json")
    got = json.loads(out)
    assert (code, got["floats"]) == (0, True)
    assert got["origin_height_m"] == pytest.approx(-0.05, rel=1e-3)
    assert got["freeboard_min_m"] == pytest.approx(0.25, rel=1e-3)
    assert "shape.outer_skin" in {f["code"] for f in got["findings"]}


def meshed(**more):
    shape = MeshFile("tub.stl", "m", mesh=raft().bodies[0].shape.build())
    level = (WeightItem("all", 40.0, (1.0, 0.0, 0.1)),)
    return dataclasses.replace(raft(), weights=level, bodies=(dataclasses.replace(raft().bodies[0], shape=shape, **more),))


def test_a_builder_corrects_the_rim_and_freeboard_follows():
    found = afloat.assess(Craft(meshed())).afloat.freeboard
    lower = editing.set_field(Craft(meshed()), "bodies.0.rim_middle_m", 0.25)
    after = afloat.assess(Craft(lower)).afloat.freeboard
    assert found - after == pytest.approx(0.05, abs=0.003)
    assert Craft(lower).rail_at(1.0)[1] == pytest.approx(0.25, abs=0.002)
    doubtful = dataclasses.replace(meshed(), bodies=(dataclasses.replace(meshed().bodies[0], deck="decked"),))
    assert Craft(doubtful).hull.found_rim.doubt == ""


@pytest.mark.parametrize("make", [moorhen, turnstone])
def test_bodies_that_touch_are_drawn_each_by_one_outline(make):
    """No outline of the small picture runs over itself: each piece is one closed loop, holes aside."""
    craft = Craft(make())
    picture = str(tank.small(craft.hull, craft.settled.attitude, 340.0, 150.0, "x"))
    outlines = re.findall(r'<path d="([^"]*)" class="hull-line"', picture) or re.findall(r'class="hull-line" d="([^"]*)"', picture)
    assert len(outlines) == len(craft.hull.drawn) >= 5
    assert all(d.count("M") == 1 for d in outlines)


def test_the_file_of_an_outer_skin_is_watertight_for_others(tmp_path):
    path = tmp_path / "skin.stl"
    from yarekeel.core.geometry.envelope import outer_skin

    path.write_bytes(write(outer_skin(hollow_box()), "stl"))
    general = trimesh.load_mesh(path)
    assert general.is_watertight
    assert np.isclose(general.area / 1e6, 3.96, rtol=1e-3)
