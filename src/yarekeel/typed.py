"""What people type for a quantity beyond a number and a unit: feet and inches, pounds and ounces, halves, sums, and digits grouped by any
custom. It comes to a sum of measures, each a number with its unit as written; what the units mean is not this module's matter."""

import re
from collections.abc import Sequence

HALVES = {"½": 1 / 2, "¼": 1 / 4, "¾": 3 / 4, "⅓": 1 / 3, "⅔": 2 / 3, "⅛": 1 / 8, "⅜": 3 / 8, "⅝": 5 / 8, "⅞": 7 / 8}
MARKS = {"'": "ft", "′": "ft", "’": "ft", '"': "in", "″": "in", "”": "in", "''": "in"}
MOST_TOKENS = 60
DEEPEST = 8
"""Brackets within brackets."""
TIMES = ("*", "×", "·")
_NUMBER = r"\d[\d.,]*(?:(?:[ \u00a0\u202f]|['’](?=\d{3}(?!\d|\s*[\"″”])))\d{3}(?!\d)[\d.,]*)*(?:[eE][+-]?\d+)?|[.,]\d+"
_TOKEN = re.compile(
    rf"\s*(?:(?P<number>{_NUMBER})|(?P<half>[½¼¾⅓⅔⅛⅜⅝⅞])|(?P<mark>''|['′’\"″”])|(?P<op>[-+*/×·()\u2212])"
    r"|(?P<unit>[A-Za-zµΩ°%]+\.?(?:[²³]|\^?[23](?![\d.,A-Za-z]))?(?:\s*/\s*[A-Za-z]+(?:[²³]|\^?[23](?![\d.,A-Za-z]))?)?(?:\s+(?:gal|gallons?|ton|oz)\b)?))"
)

MORE = re.compile(r"""\s[\d½¼¾⅓⅔⅛⅜⅝⅞]|['"′″’”]\s*\d|[+×()½¼¾⅓⅔⅛⅜⅝⅞]|(?<![A-Za-z*])\*|^[xX]\s|^/|/\s*\d|[A-Za-z][\d.,]+\s*[A-Za-z]|\s[-−]""")
"""What follows a number that is more than its unit: another number, a sum, a product."""

Measure = tuple[float, str]
"""A number, and its unit as written; empty for none."""


class NotUnderstood(ValueError):
    """No quantity, or one that can be read two ways."""


def measures(text: str) -> tuple[Measure, ...]:
    """The measures whose sum was typed: "5 ft 6 in" is two, "3*85 g" one of 255 g. What has no unit in a sum takes that of the next that
    has one. Raises NotUnderstood."""
    tokens = _tokens(text)
    if not tokens:
        raise NotUnderstood
    reader = _Reader(tokens)
    found = reader.sum(0)
    if reader.left:
        raise NotUnderstood
    unit = ""
    out: list[Measure] = []
    for value, own in reversed(found):
        unit = own or unit
        out.append((value, unit))
    if any(u for _, u in out) and not all(u for _, u in out):  # a bare number after the last unit takes that one
        last = next(u for _, u in out if u)
        out = [(v, u or last) for v, u in out]
    return tuple(reversed(out))


def number(text: str) -> float:
    """A number as it is written anywhere: 1.234,5 and 1,234.5 and 1'234. Raises NotUnderstood where a group of three could be either."""
    plain = re.sub(r"[\s\u00a0\u202f'’]", "", text)
    mantissa, e, exponent = plain.partition("e") if "e" in plain else plain.partition("E")
    marks = [c for c in mantissa if c in ".,"]
    if len(set(marks)) == 2:
        decimal = marks[-1]
        other = "," if decimal == "." else "."
        if marks.count(decimal) > 1 or not re.fullmatch(rf"\d{{1,3}}(?:\{other}\d{{3}})+\{decimal}\d+", mantissa):
            raise NotUnderstood
        mantissa = mantissa.replace(other, "").replace(decimal, ".")
    elif len(marks) > 1:
        if not re.fullmatch(rf"\d{{1,3}}(?:\{marks[0]}\d{{3}})+", mantissa):
            raise NotUnderstood
        mantissa = mantissa.replace(marks[0], "")
    elif marks == [","]:
        if re.fullmatch(r"[1-9]\d{0,2},\d{3}", mantissa):
            raise NotUnderstood
        mantissa = mantissa.replace(",", ".")
    try:
        return float(mantissa + e + exponent)
    except ValueError:
        raise NotUnderstood from None


def _tokens(text: str) -> list[tuple[str, str]]:
    out: list[tuple[str, str]] = []
    at = 0
    while at < len(text.rstrip()):
        found = _TOKEN.match(text, at)
        if found is None or len(out) >= MOST_TOKENS:
            raise NotUnderstood
        kind = found.lastgroup or ""
        word = found[kind]
        if kind == "unit" and word in ("x", "X"):
            kind, word = "op", "*"
        if kind == "mark":
            kind, word = "unit", MARKS[word]
        out.append((kind, word))
        at = found.end()
    return out


class _Reader:
    """Sums of products of numbers and bracketed sums, with units after numbers."""

    def __init__(self, tokens: Sequence[tuple[str, str]]) -> None:
        self.left = list(tokens)

    def _next(self, kind: str, *words: str) -> str | None:
        if self.left and self.left[0][0] == kind and (not words or self.left[0][1] in words):
            return self.left.pop(0)[1]
        return None

    def sum(self, deep: int) -> list[Measure]:
        sign = -1.0 if self._next("op", "-", "\u2212") else 1.0
        if sign > 0:
            self._next("op", "+")
        out = [(sign * v, u) for v, u in self.product(deep)]
        while (op := self._next("op", "+", "-", "\u2212")) is not None:
            out += [((1.0 if op == "+" else -1.0) * v, u) for v, u in self.product(deep)]
        return out

    def product(self, deep: int) -> list[Measure]:
        out = self.measure(deep)
        while (op := self._next("op", *TIMES, "/")) is not None:
            out, other = _together(out), _together(self.measure(deep))
            if op == "/" and len(other) == 1 and other[0][0] != 0 and not (other[0][1] and out[0][1]):
                out = [(v / other[0][0], u or other[0][1]) for v, u in out]  # 1200/2 mm: half of 1200 mm
            elif op != "/" and len(other) == 1 and not other[0][1]:
                out = [(v * other[0][0], u) for v, u in out]
            elif op != "/" and len(out) == 1 and not out[0][1]:
                out = [(out[0][0] * v, u) for v, u in other]
            else:
                raise NotUnderstood  # of a unit by a unit, or by nothing
        return out

    def measure(self, deep: int) -> list[Measure]:
        """A bracketed sum with a unit after it, or numbers each with a unit, one after the other: 5 ft 6 in."""
        if self._next("op", "(") is not None:
            if deep >= DEEPEST:
                raise NotUnderstood
            inner = self.sum(deep + 1)
            if self._next("op", ")") is None:
                raise NotUnderstood
            unit = self._next("unit")
            if unit is not None and any(u for _, u in inner):
                raise NotUnderstood
            return [(v, unit) for v, _ in inner] if unit is not None else inner
        out = [self._one()]
        while out[-1][1] and self.left and self.left[0][0] in ("number", "half"):
            out.append(self._one())
        if len(out) > 1 and not all(u for _, u in out):
            if out[-2][1] == "ft" and len(out) == 2:
                out[-1] = (out[-1][0], "in")  # 5' 6
            else:
                raise NotUnderstood
        return out

    def _one(self) -> Measure:
        word = self._next("number")
        half = self._next("half")
        if word is None and half is None:
            raise NotUnderstood
        value = (number(word) if word is not None else 0.0) + (HALVES[half] if half is not None else 0.0)
        if word is not None and half is None and len(self.left) > 2 and self._is_fraction():
            top, _, bottom = (self.left.pop(0)[1] for _ in range(3))
            value += int(top) / int(bottom)  # 5 1/2
        return value, self._next("unit") or ""

    def _is_fraction(self) -> bool:
        (a, top), (b, slash), (c, bottom) = self.left[:3]
        return (a, b, c) == ("number", "op", "number") and slash == "/" and top.isdigit() and bottom.isdigit() and int(bottom) > 0


def _together(found: list[Measure]) -> list[Measure]:
    """Bare numbers as the one that they add up to."""
    return found if any(u for _, u in found) else [(sum(v for v, _ in found), "")]
