"""New boats start as their kind is; a list keeps what was typed; people are aboard seated and standing; load cases fill tanks."""

import dataclasses

import pytest

from tests.stages.rafts import raft
from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families import FAMILIES
from yarekeel.core.weights.items import WeightItem
from yarekeel.core.weights.recipes.person import Person
from yarekeel.core.weights.recipes.skin import Skin
from yarekeel.demo.boats import dabchick
from yarekeel.stages.design import editing, listing
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Compartment, LoadCase, LoadCount


@pytest.mark.parametrize(
    ("family", "kind", "deck"),
    [
        ("flat_bottom", "people", "open"),  # a skiff or punt
        ("round_bilge", "people", "open"),  # a canoe
        ("folded_tray", "model", "open"),  # a tray has no lid
        ("folded_tray", "people", "open"),
        ("round_bilge", "model", "decked"),
        ("submersible", "model", "decked"),
        ("twin_hull", "people", "decked"),
    ],
)
def test_a_new_boat_is_open_or_decked_as_its_kind_is(family, kind, deck):
    design = editing.laid_down("New", FAMILIES[family](), kind)
    assert design.bodies[0].deck == deck
    capacity = Craft(design).hull.kernel.total_volume * design.water.density
    assert design.brief.target_mass_kg == pytest.approx(0.35 * capacity, rel=0.05)


@pytest.mark.parametrize("family", ["flat_bottom", "round_bilge", "vee", "twin_hull", "pontoon"])
def test_a_boat_for_people_is_large_enough_for_them(family):
    """Two people and their boat, some 220 kg, are a third of what its hull displaces, or less; none is longer than a bus."""
    design = editing.laid_down("New", FAMILIES[family](), "people")
    assert 190 <= design.brief.target_mass_kg <= 330
    assert 1.8 < Craft(design).hull.mesh.length < 8.0


def test_a_tray_of_a_litre_is_not_asked_to_carry_3_kg():
    tray = FAMILIES["folded_tray"](sheet_length_m=0.25, sheet_width_m=0.15, fold_m=0.03)
    design = editing.laid_down("Tray", tray, "model")
    assert Craft(design).hull.kernel.total_volume < 1e-3
    assert design.brief.target_mass_kg < 0.4


def test_another_family_or_kind_changes_what_was_usual_and_nothing_that_was_set():
    design = editing.laid_down("New", FAMILIES["round_bilge"](), "model")
    for_people = editing.set_field(Craft(design), "brief.kind", "people")
    assert for_people.bodies[0].deck == "open"
    tray = editing.set_field(Craft(design), "bodies.0.shape.kind", "folded_tray")
    assert tray.bodies[0].deck == "open"
    assert tray.brief.target_mass_kg != design.brief.target_mass_kg
    asked = editing.set_field(Craft(design), "brief.target_mass_kg", 4.0)
    assert editing.set_field(Craft(asked), "bodies.0.shape.kind", "folded_tray").brief.target_mass_kg == 4.0
    opened = dataclasses.replace(design, bodies=(dataclasses.replace(design.bodies[0], deck="open"),))
    assert editing.set_field(Craft(opened), "brief.kind", "people").bodies[0].deck == "open"


@pytest.mark.parametrize(
    ("name", "group"),
    [("Hull, printed", "structure"), ("Frames", "structure"), ("Battery", "electrics"), ("Lead keel", "structure"), ("Lead", "ballast"),
     ("Outboard", "drive"), ("Rower", "crew"), ("Side foam", "foam"), ("Lunch", "payload")],
)  # fmt: skip
def test_a_new_line_goes_in_the_group_of_its_name(name, group):
    added = editing.add_line(Craft(raft()), "weights")
    number = len(added.weights) - 1
    assert editing.set_field(Craft(added), f"weights.{number}.name", name).weights[number].group == group


def test_a_group_that_was_chosen_stays_when_the_line_is_renamed():
    design = dataclasses.replace(raft(), weights=(WeightItem("Box", 1.0, (1.0, 0.0, 0.1)),))
    assert listing.renamed(design, 0, "Battery").weights[0].group == "payload"


def test_a_mass_that_was_typed_stays_as_the_correction_of_its_estimate():
    """80 kg typed for a person are that person's; 30 kg typed for a hull are its skin's, by the factor 30 / what the sum gives."""
    lines = (WeightItem("Hull", 30.0, (1.0, 0.0, 0.1), group="structure"), WeightItem("Ada", 80.0, (1.0, 0.0, 0.3), group="crew"))
    design = dataclasses.replace(raft(), weights=lines)
    person = listing.with_recipe(Craft(design), 1, "person")
    assert person.weights[1].recipe == Person(80.0)
    assert Craft(person).items[1].mass_kg == pytest.approx(80.0)
    skin = listing.with_recipe(Craft(design), 0, "skin")
    assert Craft(skin).items[0].mass_kg == pytest.approx(30.0)
    by_sum = Skin().made(_basis(Craft(design))).mass
    assert skin.weights[0].factor == pytest.approx(30.0 / by_sum)
    assert Craft(listing.uncorrected(skin, 0)).items[0].mass_kg == pytest.approx(by_sum)
    fresh = dataclasses.replace(design, weights=(dataclasses.replace(lines[0], mass_kg=0.0),))
    assert listing.with_recipe(Craft(fresh), 0, "skin").weights[0].factor == 1.0


def _basis(craft):
    from yarekeel.core.weights.materials import MATERIALS
    from yarekeel.core.weights.recipes import Basis

    return Basis(craft.body, MATERIALS)


def test_a_person_is_put_aboard_and_stands_up_in_a_load_of_its_own():
    design = listing.with_person(Craft(raft()))
    number = len(design.weights) - 1
    person = Craft(design).items[number]
    assert (person.group, person.mass_kg) == ("crew", 75.0)
    seat = design.weights[number].at_m[2]
    assert person.at_m[2] > seat + 0.2  # the centre is well over the seat, about a foot (handbook: 0.25 m)
    both = listing.with_postures(Craft(design), number)
    assert [c.name for c in both.cases] == ["seated", "standing"]
    seated, standing = (Craft(dataclasses.replace(both, case=c.name)) for c in both.cases)
    assert seated.total.mass == pytest.approx(standing.total.mass) == pytest.approx(Craft(design).total.mass)
    feet = max(0.0, seat - Person().seat_height)
    assert standing.items[-1].at_m[2] == pytest.approx(feet + Person(posture="standing").centre_height, abs=1e-4)
    assert standing.total.centre[2] > seated.total.centre[2] + 0.1
    with pytest.raises(InvalidInput, match="seated"):
        listing.with_postures(Craft(both), len(both.weights) - 1)


def test_a_load_case_fills_a_tank():
    """A metre of the raft as a tank: 1 x 0.6 x 0.3 m, all of it room; half full in one load, empty in another."""
    tank = Compartment("tank", "hull", aft_m=0.5, fore_m=1.5, use="tank", filled=0.1, room=1.0)
    cases = (LoadCase("half", (LoadCount("tank", 0.5),)), LoadCase("dry", (LoadCount("tank", 0.0),)), LoadCase("as listed"))
    design = dataclasses.replace(raft(), compartments=(tank,), cases=cases)
    held = [Craft(dataclasses.replace(design, case=c.name)).liquid_mass for c in cases]
    assert held == pytest.approx([90.0, 0.0, 18.0], rel=1e-6)
    typed = listing.with_count(design, 2, len(design.weights), 0.25)
    assert Craft(dataclasses.replace(typed, case="as listed")).liquid_mass == pytest.approx(45.0, rel=1e-6)
    assert listing.count_in_case(typed, 2, len(design.weights)) == 0.25
    with pytest.raises(InvalidInput, match="0 to 1"):
        listing.with_count(design, 0, len(design.weights), 2.0)
    assert Craft(dabchick()).compartments[0].filled == dabchick().compartments[0].filled


def test_places_have_doubt_and_it_goes_into_centre_trim_and_gm():
    """10 kg put to within 100 mm on a boat of 40 kg: G is sure to 10 x 100 / 40 = 25 mm each way, with the rest known exactly."""
    stone = WeightItem("Stone", 10.0, (0.8, 0.0, 0.1), spread=0.0, place_spread_m=0.1)
    shell = WeightItem("Shell", 30.0, (1.0, 0.0, 0.1), spread=0.0, place_spread_m=0.0)
    craft = Craft(dataclasses.replace(raft(), weights=(shell, stone)))
    assert craft.total.centre_half_width == pytest.approx((0.025, 0.025, 0.025))
    usual = Craft(dataclasses.replace(raft(), weights=(shell, dataclasses.replace(stone, place_spread_m=None))))
    # Guessed: a hundredth of length and beam, a twentieth of the depth.
    assert usual.total.centre_half_width == pytest.approx((10 * 0.02 / 40, 10 * 0.006 / 40, 10 * 0.015 / 40))
    seated = WeightItem("Ada", 75.0, (1.0, 0.0, 0.137), "weighed", group="crew")
    typed = Craft(dataclasses.replace(raft(), weights=(seated,)))
    assert typed.total.centre_half_width[2] > 0.1  # sitting, kneeling or standing: nobody said
