"""Relations say where they are from, signatures say their units, and the table in the documents is theirs."""

import inspect
import typing
from collections.abc import Callable, Iterator
from importlib import import_module
from pathlib import Path
from typing import Annotated, Any, Literal, get_origin, get_type_hints

from yarekeel.core.formulas import formulas, modules, table

ROOT = Path(__file__).parents[2]


def public() -> Iterator[tuple[str, Callable[..., Any]]]:
    """Every public function and method of the core, with its name."""
    for name in modules():
        module = import_module(name)
        for word, value in vars(module).items():
            if word.startswith("_") or getattr(value, "__module__", "") != name:
                continue
            if inspect.isclass(value):
                for part, member in vars(value).items():
                    of = member.fget if isinstance(member, property) else member
                    if not part.startswith("_") and inspect.isfunction(of):
                        yield f"{name}.{word}.{part}", of
            elif inspect.isfunction(inspect.unwrap(value)) if callable(value) else False:
                yield f"{name}.{word}", inspect.unwrap(value)


PUBLIC = dict(public())


def test_no_public_function_of_the_core_has_a_bare_float():
    assert len(PUBLIC) > 250
    bare = [name for name, of in PUBLIC.items() if any(kind is float for kind in get_type_hints(of, include_extras=True).values())]
    assert bare == []


def test_every_function_from_quantities_to_a_quantity_says_where_it_is_from():
    told = {f"{row.module}.{row.name}" for row in formulas()}
    untold = []
    for name, of in PUBLIC.items():
        hints = get_type_hints(of, include_extras=True)
        back = hints.pop("return", None)
        method = "self" in inspect.signature(of).parameters
        if not method and hints and _is_quantity(back) and all(_is_quantity(k) or _is_word(k) for k in hints.values()):
            untold += [name] if name not in told else []
    assert untold == []
    assert len(told) > 30


def _is_quantity(kind: Any) -> bool:
    return get_origin(kind) is Annotated


def _is_word(kind: Any) -> bool:
    return kind in (bool, int, str) or get_origin(kind) is Literal


def test_every_relation_has_its_symbol_source_and_range_in_the_table():
    for row in formulas():
        assert row.symbol
        assert row.source.citation
        assert row.validity
        assert typing.get_type_hints(PUBLIC[f"{row.module}.{row.name}"]), row.name
    assert table() in (ROOT / "docs/formulas.md").read_text(), "run: make formulas"
