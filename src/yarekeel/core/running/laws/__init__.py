"""The laws of what pushes a boat under way. A new law is one new file here that ends in ``LAW``."""

from importlib import import_module
from pkgutil import iter_modules

from yarekeel.core.running.forces import Law

_MODULES = [import_module(f"{__name__}.{m.name}") for m in iter_modules(__path__)]
LAWS: tuple[Law, ...] = tuple(sorted((m.LAW for m in _MODULES if hasattr(m, "LAW")), key=lambda law: law.rank))

__all__ = ["LAWS"]
