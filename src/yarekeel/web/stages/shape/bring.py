"""The page of a mesh on its way in: its pictures, its findings, its choices."""

import dataclasses
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from markupsafe import Markup

from yarekeel.core.geometry.families.mesh_file import METRES_PER_UNIT
from yarekeel.core.geometry.placing import AXES
from yarekeel.core.geometry.rim import Rim
from yarekeel.core.quantities import Metres
from yarekeel.drawing import mesh_picture
from yarekeel.drawing.view import ABOVE
from yarekeel.plain_text import whole
from yarekeel.store.records import Revision
from yarekeel.units import SYSTEMS, System, say
from yarekeel.web.stages.shape.drafts import Draft, across

PRINTED_DENSITY = "1240"
"""kg/m3 of PLA, the commonest print (common practice; makers' sheets give 1 210 to 1 250)."""


@dataclass(frozen=True)
class Way:
    """A picture to choose: what choosing it means, and whether it is chosen."""

    value: str
    words: str
    picture: Markup
    chosen: bool


@dataclass(frozen=True)
class ImportView:
    """The page of a mesh on its way in."""

    token: str
    name: str
    error: str
    fault: Markup
    mended: tuple[str, ...]
    ups: tuple[Way, ...]
    forwards: tuple[Way, ...]
    units: tuple[tuple[str, str, bool], ...]
    profile: Markup
    plan: Markup
    size: str
    rim: str
    rim_doubt: str
    triangles: int
    simplified: str
    skin: str
    use_skin: bool
    material: str
    density: str
    parts: tuple[tuple[str, str, bool], ...]
    errors: dict[str, str]
    consent: bool
    weigh: bool


EMPTY: dict[str, Any] = {f.name: "" for f in dataclasses.fields(ImportView)} | {
    "fault": Markup(""),
    "profile": Markup(""),
    "plan": Markup(""),
    "mended": (),
    "ups": (),
    "forwards": (),
    "units": (),
    "parts": (),
    "triangles": 0,
    "use_skin": False,
    "consent": False,
    "weigh": False,
    "errors": {},
}


@dataclass(frozen=True)
class Choice:
    """What was chosen so far; ``part`` is the body it takes the place of, None for one more."""

    unit: str
    forward: str
    up: str
    part: int | None


def choice(draft: Draft, typed: Mapping[str, str], count: int) -> Choice:
    """The choices typed, and a guess for each that was not."""
    unit, forward, up = draft.guess()
    unit = typed.get("unit", unit) if typed.get("unit") in METRES_PER_UNIT else unit
    up = typed["up"] if typed.get("up") in AXES else up
    forward = typed["forward"] if typed.get("forward") in across(up) else (forward if forward in across(up) else across(up)[0])
    part = typed.get("part", "0")
    return Choice(unit, forward, up, number if (number := whole(part)) is not None and number < count else None)


def turning(token: str, draft: Draft, revision: Revision, typed: Mapping[str, str], errors: dict[str, str]) -> ImportView:
    """The page\'s value for a draft."""
    system = SYSTEMS[revision.units]
    bodies = revision.design.bodies
    c = choice(draft, typed, len(bodies))
    low, high = draft.found.mesh.bounds
    size = sorted((float(v) for v in high - low), reverse=True)
    hull = draft.picture_of(c.forward, c.up)
    skin = draft.skin(c.forward, c.up)
    rim = draft.rim(c.forward, c.up)
    per = METRES_PER_UNIT[c.unit]
    ext = [float(v) * per for v in hull.mesh.bounds[1] - hull.mesh.bounds[0]]
    places = tuple((str(n), f"in place of “{b.name}”", n == c.part) for n, b in enumerate(bodies))
    inside, solid = (say(v * per**3, "volume", system) for v in (skin.volume if skin else 0.0, draft.found.mesh.volume))
    ups = (Way(a, f"{a[1].upper()} {'up' if a[0] == '+' else 'down'}", _small(draft, _longest(draft, a), a), a == c.up) for a in AXES)
    forwards = (Way(a, f"bow to {a.replace('-', '−').upper()}", _small(draft, a, c.up), a == c.forward) for a in across(c.up))
    return ImportView(
        **EMPTY
        | {
            "token": token,
            "name": draft.name,
            "mended": draft.found.mended,
            "ups": tuple(ups),
            "forwards": tuple(forwards),
            "units": tuple((u, _sizes(size, per_unit, system), u == c.unit) for u, per_unit in METRES_PER_UNIT.items()),
            "profile": Markup(
                mesh_picture.profile(hull, 345, 125, "From starboard as it will be brought in, bow to the right", rim=rim.points)
            ),
            "plan": Markup(
                mesh_picture.profile(hull=hull, width=345, height=125, label="From above, bow to the right", side=ABOVE, rim=rim.points)
            ),
            "size": f"{say(ext[0], 'length', system)} long, {say(ext[1], 'length', system)} wide, {say(ext[2], 'length', system)} deep",
            "rim": _rim_words(rim, per, system),
            "rim_doubt": rim.doubt,
            "triangles": len(draft.found.mesh.faces),
            "simplified": _simplified(draft),
            "skin": f"{inside} outside against {solid} of material" if skin else "",
            "use_skin": typed.get("skin", "outer") == "outer",
            "material": solid,
            "density": typed.get("density", PRINTED_DENSITY),
            "parts": (*places, ("new", "as one more part", c.part is None)),
            "errors": errors,
            "consent": typed.get("consent") == "yes",
            "weigh": "skin" not in typed or typed.get("weigh") == "yes",
        }
    )


def _rim_words(rim: Rim, per: Metres, system: System) -> str:
    low, high = float(rim.points[:, 2].min()) * per, float(rim.points[:, 2].max()) * per
    return f"{say(low, 'length', system)} to {say(high, 'length', system)} up in the file's own numbers"


def _sizes(size: list[float], per_unit: float, system: System) -> str:
    return " × ".join(say(v * per_unit, "length", system) for v in size)


def _simplified(draft: Draft) -> str:
    found = draft.found
    if not found.triangles:
        return ""
    change = f"{100 * abs(found.lost):.3f} % {'less' if found.lost < 0 else 'more'}"
    return f"Its {found.triangles} triangles are simplified to {len(found.mesh.faces)}; the hull then holds {change}."


def _longest(draft: Draft, up: str) -> str:
    size = [float(v) for v in draft.found.mesh.bounds[1] - draft.found.mesh.bounds[0]]
    return max((a for a in across(up) if a[0] == "+"), key=lambda a: size["xyz".index(a[1])])


def _small(draft: Draft, forward: str, up: str) -> Markup:
    return Markup(mesh_picture.profile(draft.picture_of(forward, up), 150, 84, ""))
