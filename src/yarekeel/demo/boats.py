"""The demo boats as their builders first listed them.

``reedwarden`` is an electric twin-hull that skims litter off a mill pond under radio control; ``wagtail`` a plywood pram
tender for two with a small electric outboard; ``moorhen`` a reed-cutter's punt stretched from an old table of offsets;
``dabchick`` a model submarine that looks at the mill's sluice; ``turnstone`` a foam-and-glass sailing canoe whose two small floats
hang clear of the water.
"""

import dataclasses

from yarekeel.core.geometry.families import Box, FlatBottom, Offsets, RoundBilge, TwinHull
from yarekeel.core.geometry.families.foam_block import FoamBlock
from yarekeel.core.geometry.families.offsets import Change, Station
from yarekeel.core.geometry.families.pontoon import Pontoon
from yarekeel.core.geometry.families.strut import Strut
from yarekeel.core.geometry.families.submersible import Submersible
from yarekeel.core.propulsion.drive import Battery, Drive, ElectricMotor, Motor, Wiring
from yarekeel.core.propulsion.propulsors.hand import HandPower
from yarekeel.core.propulsion.propulsors.measured import BenchPull
from yarekeel.core.propulsion.propulsors.water_propeller import WaterPropeller
from yarekeel.core.propulsion.sail import Sail
from yarekeel.core.quantities import Point
from yarekeel.core.stability.tipping import Tipping
from yarekeel.core.water import Water
from yarekeel.core.weights.items import Group, WeightItem
from yarekeel.core.weights.materials import Material
from yarekeel.core.weights.recipes import Recipe
from yarekeel.core.weights.recipes.foam import Foam
from yarekeel.core.weights.recipes.frames import Frames
from yarekeel.core.weights.recipes.person import Person
from yarekeel.core.weights.recipes.skin import Skin
from yarekeel.demo.thrust_sheets import skimmer_tests
from yarekeel.stages.changes.ways.tank import tank_for
from yarekeel.stages.design.aboard import refreshed
from yarekeel.stages.design.brief import Brief
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Compartment, Design, LoadCase, LoadCount, Marks, Opening


def _estimate(name: str, group: Group, recipe: Recipe, at: Point = (0.0, 0.0, 0.0)) -> WeightItem:
    """A line whose mass its recipe works out."""
    return WeightItem(name, 0.0, at, "data", group=group, recipe=recipe)


BY_THE_REPEAT = BenchPull("4 cells, joint pinned")


def reedwarden() -> Design:
    """The litter skimmer, revision A."""
    return Design(
        practice=True,
        name="Reedwarden",
        water=Water("fresh", 12.0),
        brief=Brief("model", 4.9, 0.045, 1.0, 0.150, 0.25),
        bodies=(
            Body(
                "hulls and bridge",
                TwinHull(
                    length_m=0.80,
                    hull_beam_m=0.105,
                    depth_m=0.125,
                    hull_spacing_m=0.33,
                    bilge_radius_m=0.045,
                    rocker_bow_m=0.035,
                    rocker_stern_m=0.012,
                    stern_width=0.85,
                    bow_fineness=0.5,
                    stem_rake_m=0.07,
                    bridge_length_m=0.40,
                    bridge_thickness_m=0.018,
                ),
            ),
        ),
        weights=(
            WeightItem("Hulls, printed", 1.060, (0.385, 0.0, 0.058), "weighed", None, "structure"),
            WeightItem("Bridge, plywood", 0.310, (0.40, 0.0, 0.135), "data", None, "structure"),
            WeightItem("Battery, 4 cells", 0.860, (0.270, 0.0, 0.060), "weighed", group="electrics"),
            WeightItem("Motors and shafts, pair", 0.410, (0.115, 0.0, 0.045), "weighed", group="drive"),
            WeightItem("Receiver and speed controls", 0.188, (0.190, 0.0, 0.150), "data", group="electrics"),
            WeightItem("Basket and lift", 0.420, (0.455, 0.0, 0.140), "guessed"),
            WeightItem("Catch, wet weed", 1.200, (0.435, 0.0, 0.165), "guessed"),
        ),
        drive=Drive(
            motors=(
                Motor("Port motor", 6.4, (0.02, 0.165, 0.020), 2.9, "measured", propulsor=BY_THE_REPEAT, turns="left"),
                Motor("Starboard motor", 6.4, (0.02, -0.165, 0.020), 2.9, "measured", propulsor=BY_THE_REPEAT),
            ),
            battery=Battery(14.8, 5.0, 15.0, 0.024),
            wiring=Wiring(plug_a=30.0, supply_a=3.0, servos=1, stall_a=0.9),
            tests=skimmer_tests(),
        ),
        marks=Marks(0.05, 0.70),
        compartments=(
            Compartment("port hull", "hulls and bridge", starboard_m=0.05, high_m=0.125),
            Compartment("starboard hull", "hulls and bridge", port_m=-0.05, high_m=0.125),
        ),
        cases=(
            LoadCase("empty basket", (LoadCount("Catch, wet weed", 0.0),)),
            LoadCase("half a basket", (LoadCount("Catch, wet weed", 0.5),)),
            LoadCase("basket heaped", (LoadCount("Catch, wet weed", 1.5),)),
        ),
    )


def wagtail() -> Design:
    """The pram tender, revision A."""
    return Design(
        practice=True,
        name="Wagtail",
        water=Water("sea", 14.0),
        brief=Brief("people", 225.0, 0.20, 2.0, 0.30, 0.02),
        bodies=(
            Body(
                "hull",
                FlatBottom(
                    length_m=2.35,
                    beam_m=1.20,
                    depth_m=0.44,
                    flare_m=0.13,
                    rocker_bow_m=0.17,
                    rocker_stern_m=0.07,
                    sheer_m=0.06,
                    stern_width=0.82,
                    bow_width=0.48,
                    bow_fineness=0.35,
                    stem_rake_m=0.16,
                ),
                deck="open",
            ),
        ),
        weights=(
            WeightItem("Hull, 6 mm ply and glass", 33.0, (1.10, 0.0, 0.20), "data", None, "structure", material="glassed_ply"),
            WeightItem("Thwarts and knees", 4.5, (1.15, 0.0, 0.28), "guessed", None, "structure", material="pine"),
            WeightItem("Rower on the middle thwart", 75.0, (1.22, 0.0, 0.53), "data", group="crew"),
            WeightItem("Passenger, stern seat", 75.0, (0.62, 0.0, 0.51), "guessed", group="crew"),
            WeightItem("Battery in its box", 11.5, (1.75, 0.0, 0.20), "weighed", group="electrics"),
            WeightItem("Outboard, electric", 8.0, (-0.05, 0.0, 0.40), "weighed", group="drive"),
            WeightItem("Oars, anchor, bailer", 7.0, (1.70, 0.0, 0.18), "guessed"),
        ),
        drive=Drive(
            motors=(
                Motor(
                    "Outboard",
                    130.0,
                    (-0.08, 0.0, -0.12),
                    28.0,
                    "rated",
                    ElectricMotor(105.0, 0.09, 1.5, control_ohm=0.006, most_current_a=45.0, control_a=50.0),
                    WaterPropeller(0.22, 0.125, 2, 0.3),
                ),
            ),
            battery=Battery(12.8, 60.0, 1.0, 0.012, "lithium_iron"),
        ),
        marks=Marks(0.15, 2.05),
        materials=(Material("glassed_ply", "Plywood, glass both sides", "wood", 650.0, 580.0, 720.0),),
        compartments=(
            Compartment("bow locker", "hull", aft_m=1.95, low_m=0.18, room=0.8),
            Compartment("stern locker", "hull", fore_m=0.32, low_m=0.06, room=0.8),
        ),
        cases=(
            LoadCase("rower alone", (LoadCount("Passenger, stern seat", 0.0),)),
            LoadCase("passenger alone", (LoadCount("Rower on the middle thwart", 0.0),)),
            LoadCase("empty, at anchor", (LoadCount("Rower on the middle thwart", 0.0), LoadCount("Passenger, stern seat", 0.0))),
        ),
    )


def dabchick() -> Design:
    """The sluice submarine: a printed pressure hull, a vented tank that draws its air by the tower; revision A."""
    hull = Submersible(0.92, 0.13, 1.2, 0.75, 0.35, 0.014, 0.12, 0.045, 0.085, 0.56)
    top = 0.13 + 0.085
    design = Design(
        practice=True,
        name="Dabchick",
        water=Water("fresh", 12.0),
        brief=Brief("model", 11.5, 0.0, 2.0, 0.004, 0.05),
        bodies=(Body("pressure hull", hull, openings=(Opening("air inlet", (0.515, 0.0, top)),)),),
        weights=(
            WeightItem("Hull, casing, tower, printed", 2.350, (0.455, 0.0, 0.074), "weighed", None, "structure", material="petg"),
            WeightItem("Keel lead", 3.600, (0.470, 0.0, 0.016), "weighed", group="ballast", material="lead"),
            WeightItem("Battery, 3 cells", 1.480, (0.560, 0.0, 0.045), "weighed", group="electrics"),
            WeightItem("Motor, shaft and seal", 0.620, (0.110, 0.0, 0.060), "weighed", group="drive"),
            WeightItem("Pump, valve and servos", 0.740, (0.300, 0.0, 0.055), "data", group="electrics"),
            WeightItem("Camera and lamp", 0.430, (0.830, 0.0, 0.060), "data"),
            WeightItem("Receiver and wiring", 0.310, (0.420, 0.0, 0.085), "guessed", group="electrics"),
        ),
        drive=Drive(
            (
                Motor(
                    "Motor",
                    9.0,
                    (0.01, 0.0, 0.060),
                    3.5,
                    "rated",
                    ElectricMotor(450.0, 0.12, 0.8, control_ohm=0.006, most_current_a=20.0),
                    WaterPropeller(0.045, 0.040, 3, 0.5),
                ),
            ),
            Battery(11.1, 8.0, 20.0, 0.02),
        ),
    )
    tank = tank_for(Craft(design), inlet_out=0.025)
    return dataclasses.replace(design, compartments=(tank,))


def moorhen() -> Design:
    """A reed-cutter's punt from an old table of offsets, stretched to carry a load, with a skeg, strips and foam; revision A."""
    rows = (
        (0.00, (0.0, 0.27, 0.34), (0.12, 0.12, 0.36)),
        (0.68, (0.0, 0.36, 0.44), (0.05, 0.05, 0.33)),
        (1.36, (0.0, 0.40, 0.49), (0.01, 0.01, 0.32)),
        (2.04, (0.0, 0.38, 0.47), (0.01, 0.01, 0.33)),
        (2.72, (0.0, 0.28, 0.37), (0.07, 0.07, 0.37)),
        (3.40, (0.0, 0.14, 0.21), (0.20, 0.20, 0.44)),
    )
    table = Offsets(
        "chine",
        ("keel", "chine", "sheer"),
        tuple(Station(*row) for row in rows),
        (Change("higher", 0.15, above=1), Change("wider", 0.12, 0, 3)),
    )
    design = Design(
        practice=True,
        name="Moorhen",
        water=Water("fresh", 12.0),
        brief=Brief("people", 190.0, 0.15, 2.0, 0.25, 0.02),
        bodies=(
            Body("punt", table, deck="open"),
            Body("skeg", Strut(0.10, 0.50, 1.0, 0.06, 0.0), (0.12, 0.0, 0.0), role="appendage"),
            Body("rubbing strip", Box(2.0, 0.03, 0.05), (0.5, 0.465, 0.24), mirrored=True, role="float"),
            Body("bow foam", FoamBlock(0.35, 0.30, 0.14, 1, 0.1, 0.1, 0.06), (2.75, 0.0, 0.14), role="foam"),
        ),
        weights=(
            _estimate("Hull, 9 mm ply and glass", "structure", Skin("punt", "hull", 0.009, coats=3)),
            _estimate("Frames, sawn", "structure", Frames("punt", 4, 0.2, 0.8, "ring", 0.07, 0.020, "pine")),
            _estimate("Bow foam", "foam", Foam("bow foam")),
            WeightItem("Floor boards", 5.0, (1.60, 0.0, 0.05), "guessed", None, "structure", material="pine"),
            _estimate("Cutter, standing aft", "crew", Person(80.0, 1.80, "standing"), (1.35, 0.0, 0.05)),
            WeightItem("Reeds, one load", 35.0, (2.00, 0.0, 0.30), "guessed"),
            WeightItem("Pole and scythe", 5.0, (1.60, 0.2, 0.35), "weighed"),
        ),
        drive=Drive((Motor("Pole", 70.0, (0.30, 0.25, 0.20), propulsor=HandPower("paddle", 50.0, 0.6, 70.0)),)),
        cases=(
            LoadCase("going out, no reeds", (LoadCount("Reeds, one load", 0.0),)),
            LoadCase("two loads of reeds", (LoadCount("Reeds, one load", 2.0),)),
        ),
    )
    return refreshed(design, Craft(design).aboard)


def turnstone() -> Design:
    """The sailing canoe, revision A: narrow, its paddler high, its floats small and clear of the water on both sides."""
    return Design(
        practice=True,
        name="Turnstone",
        water=Water("fresh", 12.0),
        brief=Brief("people", 150.0, 0.12, 2.0, 0.10, 0.02, rail_mass_kg=10.0, rail_heel_deg=8.0, most_lean_deg=15.0, least_range_deg=35.0),
        bodies=(
            Body(
                "canoe",
                RoundBilge(
                    length_m=3.90,
                    beam_m=0.72,
                    depth_m=0.38,
                    bilge_radius_m=0.20,
                    rocker_bow_m=0.09,
                    rocker_stern_m=0.07,
                    sheer_m=0.05,
                    stern_width=0.30,
                    bow_fineness=0.45,
                    stem_rake_m=0.20,
                ),
                deck="open",
            ),
            Body("float", Pontoon(1.40, 0.15, 0.15, 0.45), (1.25, 0.86, 0.175), mirrored=True, role="float"),
            Body("board", Strut(0.42, 0.26, 0.85, 0.08, 8.0), (2.00, 0.0, -0.36), role="appendage"),
            Body("rudder", Strut(0.26, 0.15, 0.80, 0.10, 5.0), (0.02, 0.0, -0.14), role="appendage"),
        ),
        weights=(
            WeightItem("Canoe, foam and glass", 26.0, (1.85, 0.0, 0.18), "data", None, "structure", material="foam_and_glass"),
            WeightItem("Floats, one each side", 2.2, (1.95, 0.86, 0.27), "data", None, "structure", pair=True),
            WeightItem("Cross beams, ash", 4.8, (1.90, 0.0, 0.40), "weighed", None, "structure"),
            WeightItem("Paddler on the seat", 78.0, (1.55, 0.0, 0.45), "data", group="crew"),
            WeightItem("Mast, yard and sail", 5.2, (2.25, 0.0, 1.30), "weighed", group="drive"),
            WeightItem("Board and rudder", 3.1, (1.30, 0.0, 0.05), "weighed", None, "structure"),
            WeightItem("Dry bag, anchor, water", 9.0, (2.50, 0.0, 0.14), "guessed"),
        ),
        materials=(Material("foam_and_glass", "Foam core, glass both sides", "fibre and resin", 600.0, 450.0, 750.0),),
        tipping=Tipping(wind_ms=4.5, gust=1.3),
        drive=Drive((Motor("Paddle", 60.0, (1.75, 0.0, 0.10), propulsor=HandPower("paddle", 70.0, 0.65, 60.0)),)),
        sails=(Sail("Lugsail", 3.4, (1.92, 0.0, 1.55)),),
        cases=(
            LoadCase("with a child forward", (LoadCount("Dry bag, anchor, water", 3.5),)),
            LoadCase("no paddler", (LoadCount("Paddler on the seat", 0.0),)),
        ),
    )
