"""Shape: the bodies of the boat, the measures of their union, its form in the water, and how far facets stray from curves."""

from dataclasses import dataclass
from typing import Any

from yarekeel.core.errors import InvalidInput, NoRest
from yarekeel.core.facts import Fact
from yarekeel.core.findings import Finding, Remedy
from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.families import MeshFile
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.hydrostatics.form import Form, form_of
from yarekeel.core.kept import kept
from yarekeel.core.quantities import CubicMetres, Metres, Ratio, SquareMetres
from yarekeel.core.sources import MECHANICS
from yarekeel.stages.design.craft import Craft, built
from yarekeel.stages.design.design import RIM, Body

FACETS_FINE: Ratio = 0.005
"""Below this share of the volume the facets matter less than a builder's own accuracy (common practice)."""
OVERLAP_NOTED: Ratio = 0.001
"""Share of the bodies' summed volume from which an overlap is worth a word."""


@dataclass(frozen=True, slots=True)
class Part:
    """A body as the parts list shows it; ``volume`` is what it displaces fully under, with its mirror image."""

    number: int
    body: Body
    volume: CubicMetres
    facts: tuple[Fact, ...]


@dataclass(frozen=True, slots=True)
class Measures:
    """Over-all sizes of a surface."""

    length: Metres
    beam: Metres
    depth: Metres
    volume: CubicMetres
    surface: SquareMetres


@dataclass(frozen=True, slots=True)
class ShapeAssessment:
    """Measures of the closed hull; ``faceting`` is the volume foreseen to be gained at twice the detail, as a share, None for mesh
    files.

    ``form`` is taken where the boat floats; with nothing aboard, or when it sinks, at half its depth (``afloat`` false).
    """

    size: Measures
    triangles: int
    faceting: Ratio | None
    parts: tuple[Part, ...]
    form: Form | None
    attitude: Attitude
    afloat: bool
    findings: tuple[Finding, ...]


def measures(mesh: Mesh) -> Measures:
    """Sizes, volume and area of a closed mesh."""
    low, high = mesh.bounds
    length, beam, depth = (float(v) for v in high - low)
    return Measures(length=length, beam=beam, depth=depth, volume=mesh.volume, surface=mesh.area)


def resting(craft: Craft) -> tuple[Attitude, bool]:
    """Where the boat lies in the water, and whether that is its own rest; else upright at half its depth."""
    low, high = craft.hull.mesh.bounds
    try:
        return craft.rest().attitude, True
    except (InvalidInput, NoRest):
        return Attitude(0.0, 0.0, -float(low[2] + high[2]) / 2), False


def assess(craft: Craft, floating: Attitude | None = None) -> ShapeAssessment:
    """Measures of the united hull and verdicts on it; ``floating`` is where it lies, if that is known already."""
    mesh = craft.hull.mesh
    bodies = craft.design.bodies
    parts = tuple(Part(n, b, craft.piece(n).volume, _facts(b.shape)) for n, b in enumerate(bodies))
    attitude, afloat = (floating, True) if floating else resting(craft)
    faceting = _faceting_of(bodies)
    findings = []
    if faceting is not None:
        findings.append(
            Finding(
                "shape.facets",
                "holds" if abs(faceting) < FACETS_FINE else "near",
                "Flat facets stand in for the curves",
                "Drawn twice as fine, the hull would hold about {error:percent1} more; every sum here is exact for the facets.",
                source=MECHANICS,
                values={"error": faceting},
            )
        )
    apart = sum(p.volume for p in parts if p.body.role != "fairing")
    if apart - mesh.volume > OVERLAP_NOTED * apart:
        findings.append(
            Finding(
                "shape.overlap",
                "note",
                "Bodies overlap, and count once",
                "Added up they would hold {apart:volume}; {shared:volume} of it is shared and counted once.",
                source=MECHANICS,
                values={"apart": apart, "shared": apart - mesh.volume},
            )
        )
    findings += [*walls_finding(craft), *rim_finding(craft), _capacity(craft)]
    return ShapeAssessment(
        size=measures(mesh),
        triangles=len(mesh.faces),
        faceting=faceting,
        parts=parts,
        form=form_of(craft.hull, attitude),
        attitude=attitude,
        afloat=afloat,
        findings=tuple(findings),
    )


def walls_finding(craft: Craft) -> tuple[Finding, ...]:
    """What was taken of a mesh that is walls round an inside; nothing where there is none."""
    names = ", ".join(b.name for b in craft.design.bodies if isinstance(b.shape, MeshFile) and b.shape.walls)
    if not names:
        return ()
    text = "{names}: the file holds walls round an inside. Water does not get in there, so the outer skin is what floats."
    return (Finding("shape.outer_skin", "note", "Its outer skin was taken", text, source=MECHANICS, values={"names": names}),)


def rim_finding(craft: Craft) -> tuple[Finding, ...]:
    """How sure the rim of a hull from a mesh is; nothing for hulls drawn by their families."""
    rim = craft.hull.found_rim
    if rim is None:
        return ()
    given = any(getattr(b, name) is not None for b in craft.design.bodies for name in RIM)
    low, high = float(rim.points[:, 2].min()), float(rim.points[:, 2].max())
    values: dict[str, float | str] = {"low": low, "high": high, "why": rim.doubt}
    what = "where water comes in" if craft.hull.open else "the edge of its deck"
    if rim.doubt:
        text = "{why} Freeboard, flooding and reserve hang on it: look at the red line, and give its heights where it is wrong."
        way = (Remedy("Give the rim's heights", "shape"),)
        return (Finding("shape.rim_doubtful", "near", "The rim is doubtful", text, source=MECHANICS, values=values, remedies=way),)
    text = f"From {{low:length}} to {{high:length}} up, {what}: " + (
        "as you gave it." if given else "found by the mesh's shape, drawn as a line."
    )
    return (Finding("shape.rim", "note", "The rim of the mesh", text, source=MECHANICS, values=values),)


def _capacity(craft: Craft) -> Finding:
    capacity, target = craft.hull.mesh.volume * craft.density, craft.design.brief.target_mass_kg
    enough = capacity > target
    return Finding(
        "shape.capacity",
        "note" if enough else "fails",
        "What the closed hull could carry" if enough else "The hull is too small for its target",
        "It displaces {capacity:mass} with its deck just awash; your target is {target:mass}.",
        source=MECHANICS,
        values={"capacity": capacity, "target": target},
        remedies=() if enough else (Remedy("Make it longer, wider or deeper, or ask for less in the brief", "brief"),),
    )


def _facts(shape: Any) -> tuple[Fact, ...]:
    given = getattr(shape, "facts", None)
    return given() if given else ()


def _faceting_of(bodies: tuple[Body, ...]) -> Ratio | None:
    """The share of volume that twice the detail would add, foreseen from half the detail.

    What facets leave out goes with the square of their size, so the next halving adds a quarter of what the last one did
    (Richardson's extrapolation, L. F. Richardson, Phil. Trans. R. Soc. A 210, 1911).
    """
    drawn: list[Any] = [b.shape for b in bodies if not isinstance(b.shape, MeshFile)]
    if not drawn:
        return None
    volumes = [_volumes(shape) for shape in drawn]
    full = sum(v for _, v in volumes)
    return (full - sum(v for v, _ in volumes)) / 4 / full


@kept
def _volumes(shape: Any) -> tuple[CubicMetres, CubicMetres]:
    return shape.build(0.5).volume, built(shape).volume
