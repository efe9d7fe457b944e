"""Drawings for paper: what the style sheet says of a drawing's classes, written into the drawing itself, so that it stands alone."""

import re
from collections.abc import Mapping
from functools import cache
from pathlib import Path

from lxml import etree

SHEET = Path(__file__).parents[2] / "web/static/css/app.css"
KEPT = ("fill", "stroke", "stroke-width", "stroke-dasharray", "fill-opacity", "stroke-opacity", "opacity")
HIDDEN = ("cursor", "read-zone", "plot-read", "tank-hint")
"""Classes of what only serves a pointer."""
SVG = "http://www.w3.org/2000/svg"
_RULE = re.compile(r"([^{}@]+)\{([^{}]*)\}")
_CLASS = re.compile(r"(?:[\w-]*)((?:\.[\w-]+)+)")
_VARIABLE = re.compile(r"var\((--[\w-]+)(?:,[^)]*)?\)")
_FONT = re.compile(r"(?:(?P<weight>\d{3})\s+)?(?P<size>[\d.]+)px(?:/[\d.]+)?\s+(?P<family>.+)")


@cache
def styles() -> Mapping[frozenset[str], Mapping[str, str]]:
    """What the style sheet says of ink, as attributes of SVG, by the classes that a thing must have; the more special rules last. Rules
    that look at what a thing lies in are left out."""
    text = SHEET.read_text()
    colours: dict[str, str] = {}
    for name, value in re.findall(r"(--color-[\w-]+):([^;}]+)", text):
        colours.setdefault(name, value)  # by day: what is said at night comes after
    out: dict[frozenset[str], dict[str, str]] = {}
    for selectors, body in _RULE.findall(text):
        said = _said(body, colours)
        if not said:
            continue
        for selector in selectors.split(","):
            found = _CLASS.fullmatch(selector.strip())
            if found:
                out.setdefault(frozenset(found[1].strip(".").split(".")), {}).update(said)
    return dict(sorted(out.items(), key=lambda rule: len(rule[0])))


def _said(body: str, colours: Mapping[str, str]) -> dict[str, str]:
    out = {}
    for part in body.split(";"):
        name, _, value = part.partition(":")
        name, value = name.strip(), _VARIABLE.sub(lambda m: colours.get(m[1], m[1]), value.strip())
        if name in KEPT:
            out[name] = value.removesuffix("px").strip()
        elif name == "font" and (font := _FONT.match(value)):
            out["font-size"] = font["size"]
            out["font-family"] = "head" if "head" in font["family"] else "text"
            if int(font["weight"] or 400) >= 600:
                out["font-weight"] = "bold"
        elif name == "font-size" and value.endswith("px"):
            out["font-size"] = value.removesuffix("px")
    return out


def inked(drawing: str) -> str:
    """A drawing of the program's own with its style written in; what only serves a pointer is left out."""
    root = etree.fromstring(drawing.replace("<svg ", f'<svg xmlns="{SVG}" ', 1))
    sheet = styles()
    for el in list(root.iter()):
        classes = (el.get("class") or "").split()
        if any(c in HIDDEN for c in classes) or el.tag == f"{{{SVG}}}title":
            parent = el.getparent()
            if parent is not None:
                parent.remove(el)
            continue
        said: dict[str, str] = {}
        for wanted, says in sheet.items() if classes else ():
            if wanted <= set(classes):
                said.update(says)
        if el.tag == f"{{{SVG}}}text":
            said = {"font-size": "14", "font-family": "text", **said}
            said.pop("stroke", None)
            said.pop("stroke-width", None)
        for name in list(el.attrib):
            if name == "class" or name.startswith(("data-", "aria-")) or name in ("role", "tabindex"):
                del el.attrib[name]
        for name, value in said.items():
            if name not in el.attrib:
                el.set(name, value)
    return str(etree.tostring(root, encoding="unicode"))
