"""The forces at a balance as the arrows that a drawing shows."""

from collections.abc import Callable

from yarekeel.core.quantities import Newtons
from yarekeel.core.running.balance import Balanced
from yarekeel.drawing.floating import Arrow

WATER = ("friction", "appendage", "wave", "planing", "foil")
LEAST = 0.02
"""Of what holds back: a smaller force is not drawn."""


def pushing(b: Balanced, say: Callable[[float, str], str], thrust: Newtons | None = None) -> list[Arrow]:
    """The thrust, what the water holds back in all, and the air; another ``thrust`` than the steady one where the boat gains speed."""
    out = []
    water = [f for f in b.forces if f.part in WATER and f.newtons[0] < 0]
    back = -sum(f.newtons[0] for f in water)
    if back > 0:
        x, y, z = (sum(-f.newtons[0] * f.at[k] for f in water) / back for k in range(3))
        out.append(Arrow((x, y, z), (-back, 0.0, 0.0), f"water {say(back, 'force')}"))
    for f in b.forces:
        times = thrust / f.newtons[0] if f.part == "thrust" and thrust is not None and f.newtons[0] > 0 else 1.0
        x, y, z = (times * n for n in f.newtons)
        if f.part in ("thrust", "tow", "air") and abs(x) > LEAST * back:
            out.append(Arrow(f.at, (x, y, z), f"{f.part} {say(abs(x), 'force')}"))
    return out
