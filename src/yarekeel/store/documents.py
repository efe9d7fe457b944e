"""What a saved state is kept as: its file's text, packed; whole now and then, otherwise what differs from the state it was made from.

A boat file has a line a weight, and an edit changes one or a few. What differs is what lies between the beginning and the end that the two
texts share: the lengths of these, and the middle of the new one. Nothing kept is ever written over.
"""

import struct
import zlib

LONGEST_CHAIN = 48
"""States kept as differences in a row, until one is whole again."""
_ENDS = struct.Struct("<II")


class Damaged(Exception):
    """What was kept cannot be read."""


def packed(text: str) -> bytes:
    """A text whole."""
    return zlib.compress(text.encode(), 6)


def packed_on(text: str, base: str) -> bytes:
    """A text as what differs from another."""
    new, old = text.encode(), base.encode()
    ahead = _alike(new, old)
    behind = _alike(new[ahead:][::-1], old[ahead:][::-1])
    return zlib.compress(_ENDS.pack(ahead, behind) + new[ahead : len(new) - behind], 6)


def unpacked(data: bytes) -> str:
    """The text that was packed whole. Raises Damaged."""
    try:
        return zlib.decompress(data).decode()
    except (zlib.error, UnicodeDecodeError) as error:
        raise Damaged from error


def unpacked_on(data: bytes, base: str) -> str:
    """The text that was packed as what differs from ``base``. Raises Damaged."""
    try:
        whole = zlib.decompress(data)
        ahead, behind = _ENDS.unpack_from(whole)
        old = base.encode()
        return (old[:ahead] + whole[_ENDS.size :] + old[len(old) - behind :]).decode()
    except (zlib.error, struct.error, UnicodeDecodeError) as error:
        raise Damaged from error


def _alike(a: bytes, b: bytes) -> int:
    """How many bytes at their beginnings are the same, by halving."""
    low, high = 0, min(len(a), len(b))
    while low < high:
        middle = (low + high + 1) // 2
        if a[low:middle] == b[low:middle]:
            low = middle
        else:
            high = middle - 1
    return low
