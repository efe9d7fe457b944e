"""Parts of the yard's bin on a boat: their masses in the list once, at their places; changed, moved, renamed, taken off."""

import dataclasses

import pytest

from tests.cases import rated
from yarekeel.core.errors import InvalidInput
from yarekeel.core.propulsion.cells import wire_mass
from yarekeel.core.propulsion.parts import KINDS, STARTERS, MotorSpec, Part
from yarekeel.exchange import boat_file, part_file
from yarekeel.stages.design import editing, listing
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import with_value
from yarekeel.stages.design.fittings import Keyed, fit, is_listed, renewed, take_off
from yarekeel.stages.drive.what_if import WhatIf, altered, side_by_side, verdicts
from yarekeel.units import DEFAULT

MOTOR = Keyed("7", Part("motor", "Bench motor", 0.140, MotorSpec(700, 0.055, 1.0, 1.0, 35)))
SCREW = Keyed("generic:plastic-40-mm-3-blades", STARTERS["generic:plastic-40-mm-3-blades"])
SERVO = Keyed("generic:servo-9-g", STARTERS["generic:servo-9-g"])
PACK = Keyed("p", STARTERS["generic:lithium-polymer-3-cells-2-2-ah"])


def listed(design, name):
    return [w for w in design.weights if w.name == name]


def total(design):
    return Craft(design).mass


@pytest.mark.parametrize("key", STARTERS)
def test_every_generic_part_can_be_fitted_and_taken_off(key):
    bare = rated()
    name = bare.drive.motors[0].name
    fitted = fit(Craft(bare), Keyed(key, STARTERS[key]), name)
    assert total(fitted) == pytest.approx(total(bare) + STARTERS[key].mass_kg)
    assert boat_file.loads(boat_file.dumps(fitted)) == fitted
    off = take_off(fitted, 0)
    assert total(off) == pytest.approx(total(bare))
    assert off.drive.fitted == ()
    assert STARTERS[key].known in ("common practice", "from memory")


def test_a_motor_weighs_once_at_its_place_and_goes_along():
    bare = rated()
    fitted = fit(Craft(bare), MOTOR, "Port motor")
    (line,) = listed(fitted, "Bench motor, Port motor")
    assert (line.mass_kg, line.at_m, line.group, line.known) == (0.140, bare.drive.motors[0].at_m, "drive", "weighed")
    assert fitted.drive.motors[0].electric.kv == 700
    assert fitted.drive.motors[1].electric.kv == 1000
    again = fit(Craft(fitted), MOTOR, "Port motor")
    assert total(again) == total(fitted)
    moved = editing.set_field(Craft(fitted), "drive.motors.0.at_m.0", 0.10)
    assert listed(moved, "Bench motor, Port motor")[0].at_m == (0.10, 0.165, 0.020)
    other = editing.set_field(Craft(fitted), "drive.motors.1.at_m.0", 0.10)
    assert listed(other, "Bench motor, Port motor") == [line]
    named = editing.set_field(Craft(fitted), "drive.motors.0.name", "Left")
    assert named.drive.fitted[0].motor == "Left"
    with pytest.raises(InvalidInput, match="Another motor"):
        editing.set_field(Craft(fitted), "drive.motors.0.name", "Starboard motor")
    gone = editing.remove_line(fitted, "drive.motors.0")
    assert gone.drive.fitted == ()
    assert total(gone) == pytest.approx(total(bare))
    off = take_off(fitted, 0)
    assert off.drive.motors[0].electric == bare.drive.motors[0].electric


def test_another_of_its_kind_takes_its_line():
    small = fit(Craft(rated()), MOTOR, "Port motor")
    index = next(k for k, w in enumerate(small.weights) if w.name == "Bench motor, Port motor")
    small = listing.renamed(small, index, "Drive, port")
    assert small.drive.fitted[0].line == "Drive, port"
    large = Keyed("8", Part("motor", "Large motor", 0.250, MotorSpec(500, 0.04, 1.2)))
    swapped = fit(Craft(small), large, "Port motor")
    assert listed(swapped, "Drive, port") == []
    assert listed(swapped, "Large motor, Port motor")[0].mass_kg == 0.250
    assert len(swapped.drive.fitted) == 1
    assert total(swapped) == pytest.approx(total(small) + 0.110)


def test_a_changed_part_is_taken_over_on_a_word():
    fitted = fit(Craft(rated()), MOTOR, "Port motor")
    changed = Keyed("7", dataclasses.replace(MOTOR.part, mass_kg=0.155))
    assert changed.part.stamp != fitted.drive.fitted[0].stamp
    assert total(fitted) == total(fit(Craft(rated()), MOTOR, "Port motor"))  # the boat keeps what it has
    taken = renewed(Craft(fitted), 0, changed)
    assert total(taken) == pytest.approx(total(fitted) + 0.015)
    assert taken.drive.fitted[0].stamp == changed.part.stamp
    with pytest.raises(InvalidInput):
        renewed(Craft(fitted), 0, SCREW)
    with pytest.raises(InvalidInput):
        renewed(Craft(fitted), 3, changed)


def test_servos_are_counted_and_the_boats_own_parts_need_no_motor():
    one = fit(Craft(rated()), SERVO)
    two = fit(Craft(one), SERVO)
    assert two.drive.wiring.servos == 2
    assert {f.line for f in two.drive.fitted} == {"Servo, 9 g", "Servo, 9 g 2"}
    assert take_off(two, 1).drive.wiring.servos == 1
    pack = fit(Craft(rated()), PACK)
    assert pack.drive.battery == PACK.part.spec
    assert take_off(pack, 0).drive.battery is None
    with pytest.raises(InvalidInput, match="which motor"):
        fit(Craft(rated()), MOTOR)
    with pytest.raises(InvalidInput):
        take_off(rated(), 0)


def test_a_line_taken_out_by_hand_is_not_in_the_list():
    fitted = fit(Craft(rated()), SERVO)
    assert is_listed(fitted, fitted.drive.fitted[0])
    index = next(k for k, w in enumerate(fitted.weights) if w.name == "Servo, 9 g")
    bare = editing.remove_line(fitted, f"weights.{index}")
    assert not is_listed(bare, bare.drive.fitted[0])


def test_parts_as_text_both_ways():
    parts = tuple(STARTERS.values())
    again = part_file.read(part_file.write(parts), "parts", DEFAULT)
    assert [(p.kind, p.name, p.known) for p in again] == [(p.kind, p.name, p.known) for p in parts]
    assert all(a.spec == b.spec and a.mass_kg == pytest.approx(b.mass_kg) for a, b in zip(again, parts, strict=True))
    assert all(part_file.part_of(part_file.data_of(p)) == p for p in parts)
    (typed,) = part_file.read("kind;name;mass (g);diameter_m;pitch_m\nwater propeller;Mine;7,5;1.5 in;38 mm", "parts", DEFAULT)
    assert (typed.spec.diameter_m, typed.spec.pitch_m) == (pytest.approx(0.0381), pytest.approx(0.038))
    assert typed.mass_kg == pytest.approx(0.0075)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("kind,name,mass\nmotor,M,\n", "Row 2 has no mass"),
        ("kind,name,mass\nmotor,M,0\n", "a part with no mass cannot be placed"),
        ("kind,name,mass\nsponge,M,5\n", "a part is one of"),
        ("kind,name,mass,kv\nmotor,M,5,-3\n", "Row 2: Turns per volt must lie between"),
        ("kind,name,mass\nmotor,,5\n", "Name needs 1 to 80"),
        ("name,mass\nM,5\n", "no column for the kind"),
        ("kind,name,mass\n" + "motor,M,5\n" * 501, "at most 500 parts"),
    ],
)
def test_texts_that_are_no_parts(text, words):
    with pytest.raises(InvalidInput) as refused:
        part_file.read(text, "parts", DEFAULT)
    assert words in refused.value.sentence


def test_data_that_is_no_part():
    good = part_file.data_of(SCREW.part)
    for bad in ({}, {**good, "kind": "sponge"}, {**good, "spec": 3}, {**good, "more": 1}, {**good, "mass_kg": -1.0}, [1]):
        with pytest.raises(InvalidInput):
            part_file.part_of(bad)
    with pytest.raises(InvalidInput):
        Part("motor", "M", 0.1, SCREW.part.spec)
    assert {k.code for k in KINDS.values()} == {p.kind for p in STARTERS.values()}


def test_wire_by_hand():
    """1 m of gauge 14: 2.081 mm2 of copper of 8890 kg/m3 (IEC 60028) is 18.50 g; its cover about 45 % more."""
    assert wire_mass(14, 1.0) == pytest.approx(0.01850 * 1.45, rel=2e-3)


def test_what_if_lighter_and_another_part():
    craft = Craft(rated())
    lighter = altered(craft.design, WhatIf(lighter=0.2))
    assert total(lighter) == pytest.approx(craft.mass - 0.2)
    heavier = altered(craft.design, WhatIf(lighter=-0.3))
    assert total(heavier) == pytest.approx(craft.mass + 0.3)
    for by in (4.4, -20.0, float("nan")):
        with pytest.raises(InvalidInput, match="left ashore"):
            altered(craft.design, WhatIf(lighter=by))
    swapped = altered(craft.design, WhatIf(parts=(SCREW,)))
    assert [m.propulsor for m in swapped.drive.motors] == [SCREW.part.spec] * 2
    assert total(swapped) == pytest.approx(craft.mass + 2 * SCREW.part.mass_kg)
    rows = {r.name: r for r in side_by_side(craft, WhatIf(lighter=0.2))}
    assert rows["All up"].now == pytest.approx(rows["All up"].was - 0.2)
    assert rows["All up"].is_better
    assert rows["Thrust to weight"].is_better


def test_verdicts_that_change_are_said():
    asked = with_value(rated(), "brief.thrust_to_weight", 0.31)
    (turned,) = [r for r in verdicts(Craft(asked), WhatIf(lighter=0.6)) if r.finding.code == "drive.thrust_to_weight"]
    assert (turned.was, turned.now) == ("fails", "holds")
    assert verdicts(Craft(asked), WhatIf(lighter=1e-6)) == ()
