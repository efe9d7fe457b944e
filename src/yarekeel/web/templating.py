"""Jinja over the web's own folders: escaped, and strict, so that a template cannot show what a view does not hold."""

from datetime import date
from functools import cache
from pathlib import Path
from typing import Any

from jinja2 import Environment, FileSystemLoader, StrictUndefined, select_autoescape

from yarekeel import __version__
from yarekeel.exchange.mesh_formats import FORMATS, named
from yarekeel.web.terms import why

HERE = Path(__file__).parent


@cache
def environment() -> Environment:
    """The one environment."""
    env = Environment(
        loader=FileSystemLoader(HERE),
        autoescape=select_autoescape(["html"]),
        undefined=StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
        auto_reload=False,
    )
    env.globals["version"] = __version__
    env.globals["why"] = why
    env.globals["today"] = lambda: f"{date.today():%Y-%m-%d}"
    env.globals["mesh_formats"] = tuple(FORMATS)
    env.globals["mesh_formats_named"] = named()
    return env


def render(template: str, **values: Any) -> str:
    """A template of the web's folders, filled in."""
    return environment().get_template(template).render(**values)
