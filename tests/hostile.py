"""Files that mean harm, made as they are needed: each small to send and dear to read, or something else than it says."""

import io
import json
import struct
import zipfile
import zlib
from collections.abc import Callable

import numpy as np

from yarekeel.demo.boats import dabchick
from yarekeel.exchange import boat_file

BOAT = "boat"
MESH = "mesh"
PHOTO = "photo"
WEIGHTS = "weights"
OFFSETS = "offsets"
POINTS = "points"
PARTS = "parts"


def boat_text(**changes: object) -> str:
    return json.dumps({**json.loads(boat_file.dumps(dabchick())), **changes})


def zipped(files: dict[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as box:
        for name, data in files.items():
            box.writestr(name, data)
    return out.getvalue()


def stl(corners: np.ndarray) -> bytes:
    """Binary STL of triangles (n, 3, 3)."""
    record = np.zeros(len(corners), dtype=[("n", "<f4", 3), ("c", "<f4", (3, 3)), ("a", "<u2")])
    record["c"] = corners
    return b"\0" * 80 + struct.pack("<I", len(corners)) + record.tobytes()


def cube(at: tuple[float, float, float] = (0, 0, 0), size: float = 100.0) -> np.ndarray:
    p = np.array([(x, y, z) for x in (0, 1) for y in (0, 1) for z in (0, 1)], dtype=float) * size + at
    quads = [(0, 1, 3, 2), (4, 6, 7, 5), (0, 4, 5, 1), (2, 3, 7, 6), (0, 2, 6, 4), (1, 5, 7, 3)]
    return np.array([p[list(t)] for a, b, c, d in quads for t in ((a, b, c), (a, c, d))])


def cubes(count: int, apart: float) -> bytes:
    rng = np.random.default_rng(17)
    return stl(np.concatenate([cube(tuple(rng.uniform(-apart, apart, 3))) for _ in range(count)]))


def model_3mf(items: int, triangles: int = 12, levels: int = 0) -> bytes:
    corners = cube().reshape(-1, 3)[: 3 * triangles]
    vertices = "".join(f'<vertex x="{x:.0f}" y="{y:.0f}" z="{z:.0f}"/>' for x, y, z in corners)
    faces = "".join(f'<triangle v1="{3 * k}" v2="{3 * k + 1}" v3="{3 * k + 2}"/>' for k in range(len(corners) // 3))
    objects = f'<object id="1" type="model"><mesh><vertices>{vertices}</vertices><triangles>{faces}</triangles></mesh></object>'
    for level in range(levels):  # each of ten of the one before
        parts = f'<component objectid="{level + 1}"/>' * 10
        objects += f'<object id="{level + 2}" type="model"><components>{parts}</components></object>'
    build = f'<item objectid="{levels + 1}"/>' * items
    space = "http://schemas.microsoft.com/3dmanufacturing/core/2015/02"
    text = f'<?xml version="1.0"?><model unit="millimeter" xmlns="{space}"><resources>{objects}</resources><build>{build}</build></model>'
    return zipped({"3D/3dmodel.model": text.encode(), "[Content_Types].xml": b"<Types/>", "_rels/.rels": b"<Relationships/>"})


def png(width: int, height: int) -> bytes:
    """A picture of nothing, so many points of it."""

    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    row = zlib.compressobj(9)
    line = b"\0" * (1 + width)
    data = b"".join(row.compress(line) for _ in range(height)) + row.flush()
    return (
        b"\x89PNG\r\n\x1a\n"
        + chunk(b"IHDR", struct.pack(">IIBBBBB", width, height, 8, 0, 0, 0, 0))
        + chunk(b"IDAT", data)
        + chunk(b"IEND", b"")
    )


def lying_zip() -> bytes:
    """A ZIP whose listing says that its boat is short."""
    data = bytearray(zipped({"boat.json": b" " * 30_000_000}))
    at = data.rfind(b"PK\x01\x02")
    data[at + 24 : at + 28] = struct.pack("<I", 100)
    return bytes(data)


def plates(count: int, mirrored: bool = False) -> str:
    """Thin plates laid crosswise: few bodies, many pieces."""
    box = {"kind": "box", "length_m": 3.0, "beam_m": 3.0, "depth_m": 3.0}
    bodies = []
    for k in range(count):
        for n, name in enumerate(("length_m", "beam_m", "depth_m")):
            place = [0.0, 0.0, 0.0]
            place[n] = 3.0 * k / count
            bodies.append({"name": f"{name} {k}", "shape": {**box, name: 0.02}, "at_m": place, "mirrored": mirrored and n == 1})
    return boat_text(bodies=bodies, compartments=[], weights=[])


def deep(levels: int) -> str:
    return boat_text().replace('"notes"', '"notes"', 1)[:-1] + ', "deep": ' + "[" * levels + "]" * levels + "}"


Case = tuple[str, str, str, Callable[[], bytes]]


def _boats() -> list[Case]:
    many = "[" + ", ".join(["[]"] * 1_300_000) + "]"
    cases: dict[str, Callable[[], str | bytes]] = {
        "60 MB of empty lists in 60 KB": lambda: zipped({"boat.json": b'{"weights": [' + b"[], " * 15_000_000 + b"[]]}"}),
        "a million empty weights": lambda: boat_text(weights=0).replace('"weights": 0', f'"weights": {many}'),
        "200 000 numbers for weights": lambda: boat_text(weights=[1] * 200_000),
        "6 000 whole weights": lambda: boat_text(weights=[{"name": "x", "mass_kg": 0.1, "at_m": [0, 0, 0]}] * 6000),
        "lists 100 000 deep": lambda: deep(100_000),
        "lists 400 deep": lambda: deep(400),
        "a number of 4 000 000 digits": lambda: boat_text(name=0).replace('"name": 0', f'"name": {"9" * 3_900_000}'),
        "1e999 for a mass": lambda: boat_text().replace('"mass_kg": ', '"mass_kg": 1e999, "x": ', 1),
        "NaN": lambda: boat_text(name=float("nan")),
        "a field twice": lambda: boat_text().replace("{", '{"name": "a", "name": "b", ', 1),
        "true for the version": lambda: boat_text(version=True),
        "a version of text": lambda: boat_text(version="7"),
        "a version of 10**300": lambda: boat_text(version=10**300),
        "a name of 3 MB": lambda: boat_text(name="x" * 3_000_000),
        "a name of halves of characters": lambda: boat_text(name="\ud800\udfff\ud800"),
        "a name that runs backwards": lambda: boat_text(name="Dab\u202ekcihc\u200b"),
        "10 000 bodies": lambda: boat_text(
            bodies=[{"name": "x", "shape": {"kind": "box", "length_m": 1, "beam_m": 1, "depth_m": 1}}] * 10_000
        ),
        "60 plates laid crosswise": lambda: plates(20),
        "60 plates, a third mirrored": lambda: plates(20, mirrored=True),
        "a kind that is a list": lambda: boat_text(bodies=[{"name": "x", "shape": {"kind": ["box"]}}]),
        "a mesh out of the ZIP": lambda: boat_text(
            bodies=[{"name": "x", "shape": {"kind": "mesh", "file": "../../etc/passwd", "unit": "m"}}]
        ),
        "a ZIP in a ZIP": lambda: zipped({"boat.json": zipped({"boat.json": b"{}"})}),
        "a ZIP of 70 000 files": lambda: zipped({f"{k}": b"" for k in range(70_000)}),
        "a ZIP that lies of its size": lying_zip,
        "a ZIP cut short": lambda: zipped({"boat.json": boat_text().encode()})[:400],
        "a ZIP of 60 photo bombs": lambda: zipped({"boat.json": _with_photos(12), **{f"p{k}.jpg": png(9000, 9000) for k in range(12)}}),
        "a BOM and nothing": lambda: b"\xef\xbb\xbf",
        "UTF-16": lambda: boat_text().encode("utf-16"),
        "four million quotes": lambda: b'"' * 3_999_999,
        "four million openings": lambda: b"{" * 3_999_999,
    }
    return [(BOAT, name, "b.zip" if "ZIP" in name or "KB" in name else "b.json", _bytes(make)) for name, make in cases.items()]


def _with_photos(count: int) -> bytes:
    weights = [{"name": f"w{k}", "mass_kg": 0.1, "at_m": [0.1, 0, 0], "photo": f"p{k}.jpg"} for k in range(count)]
    return boat_text(weights=weights).encode()


def _bytes(make: Callable[[], str | bytes]) -> Callable[[], bytes]:
    def made() -> bytes:
        data = make()
        return data if isinstance(data, bytes) else data.encode("utf-8", "surrogatepass")

    return made


def _meshes() -> list[Case]:
    corners = "\n".join(f"v {np.cos(k):.4f} {np.sin(k):.4f} {k % 7}" for k in range(3000))
    cases: dict[str, tuple[str, Callable[[], bytes]]] = {
        "2 000 cubes in one place": ("a.stl", lambda: cubes(2000, 0.0)),
        "2 000 cubes almost in one place": ("a.stl", lambda: cubes(2000, 0.01)),
        "2 000 cubes through one another": ("a.stl", lambda: cubes(2000, 30.0)),
        "an STL that says 4 000 000 000": ("a.stl", lambda: b"\0" * 80 + struct.pack("<I", 4_000_000_000) + b"\0" * 500),
        "an STL of text without end": ("a.stl", lambda: b"solid x\n" + b"facet normal 0 0 0\n" * 200_000),
        "an STL of nothing but numbers": ("a.stl", lambda: stl(np.full((20_000, 3, 3), np.nan))),
        "an STL beyond all places": ("a.stl", lambda: stl(cube() * 1e30)),
        "slivers": ("a.stl", lambda: stl(np.random.default_rng(3).uniform(0, 1, (60_000, 3, 3)) * [1e3, 1e-6, 1e3])),
        "a fan of 20 000 through one point": ("a.stl", lambda: stl(_fan(20_000))),
        "3 000 things on the plate": ("a.3mf", lambda: model_3mf(3000)),
        "30 000 things on the plate": ("a.3mf", lambda: model_3mf(30_000)),
        "ten of ten of ten": ("a.3mf", lambda: model_3mf(1, levels=7)),
        "a 3MF of 300 MB in 300 KB": ("a.3mf", lambda: zipped({"3D/3dmodel.model": b"<model>" + b" " * 300_000_000})),
        "a 3MF with entities": ("a.3mf", lambda: zipped({"3D/3dmodel.model": b'<!DOCTYPE m [<!ENTITY a "aaaa">]><model>&a;</model>'})),
        "a 3MF of UTF-16": ("a.3mf", lambda: zipped({"3D/3dmodel.model": '<?xml version="1.0"?><model/>'.encode("utf-16")})),
        "a face of 27 000 000 corners": ("a.obj", _text(lambda: f"{corners}\nf {'1 2 3 ' * 2_000_000}")),
        "100 000 faces of 400 corners": ("a.obj", _text(lambda: corners + ("\nf" + "".join(f" {k}" for k in range(1, 400))) * 9000)),
        "a corner that is not there": ("a.obj", _text(lambda: corners + "\nf 1 2 999999999")),
        "a corner of 5 000 digits": ("a.obj", _text(lambda: corners + "\nf 1 2 " + "9" * 5000)),
        "an OBJ that asks for files": ("a.obj", _text(lambda: corners + "\nmtllib /etc/passwd\nusemtl ../../x\nf 1 2 3")),
        "a million groups": ("a.obj", _text(lambda: corners + "\no x\nf 1 2 3" * 300_000)),
        "a PLY that says 2 000 000 000": ("a.ply", lambda: _ply(2_000_000_000, 2_000_000_000)),
        "a PLY with a list that never ends": ("a.ply", lambda: _ply(3, 1) + struct.pack("<I", 4_000_000_000)),
        "a PLY with 50 000 comments": ("a.ply", lambda: b"ply\nformat ascii 1.0\n" + b"comment x\n" * 50_000 + b"end_header\n"),
        "a name with a line break": ("a\r\n.stl", lambda: stl(cube())),
        "no ending": ("hull", lambda: stl(cube())),
    }
    return [(MESH, name, file, make) for name, (file, make) in cases.items()]


def _text(make: Callable[[], str]) -> Callable[[], bytes]:
    return lambda: make().encode()


def _fan(count: int) -> np.ndarray:
    a = np.linspace(0, 200 * np.pi, count + 1)
    rim = np.stack([np.cos(a) * 100, np.sin(a) * 100, np.sin(7 * a) * 50], axis=1)
    return np.stack([np.zeros((count, 3)), rim[:-1], rim[1:]], axis=1)


def _ply(points: int, faces: int) -> bytes:
    return (
        f"ply\nformat binary_little_endian 1.0\nelement vertex {points}\nproperty float x\nproperty float y\nproperty float z\n"
        f"element face {faces}\nproperty list uint int vertex_indices\nend_header\n"
    ).encode() + b"\0" * 36


def _photos() -> list[Case]:
    cases: dict[str, Callable[[], bytes]] = {
        "a PNG of 900 million points": lambda: png(30_000, 30_000),
        "a PNG of 81 million points": lambda: png(9000, 9000),
        "a PNG cut short": lambda: png(2000, 2000)[:300],
        "no picture": lambda: b"GIF89a" + b"\xff" * 1000,
        "a picture in a script": lambda: b"<svg xmlns='http://www.w3.org/2000/svg' onload='alert(1)'/>",
    }
    return [(PHOTO, name, "a.png", make) for name, make in cases.items()]


def _tables() -> list[Case]:
    cases: dict[str, tuple[str, Callable[[], str]]] = {
        "a mass of 131 000 digits": (WEIGHTS, lambda: "name,mass\nlead," + "1" * 131_000),
        "131 000 digits and a comma": (WEIGHTS, lambda: "name;mass\nlead;" + "1" * 131_000 + ",123"),
        "a million commas": (WEIGHTS, lambda: "," * 1_000_000),
        "a million commas under a header": (WEIGHTS, lambda: "name,mass\n" + "," * 1_000_000),
        "a header with 50 000 spaces": (WEIGHTS, lambda: "name,mass (" + " " * 50_000 + "g\nlead,3"),
        "a header of 50 000 brackets": (WEIGHTS, lambda: "name," + "(" * 50_000 + "\nlead,3"),
        "a quote that never closes": (WEIGHTS, lambda: 'name,mass\n"' + "x\n" * 500_000),
        "a name that is a formula": (WEIGHTS, lambda: 'name,mass\n"=HYPERLINK(""x"")",3'),
        "a unit of 30 000 stars": (WEIGHTS, lambda: "name,mass\nlead,3 " + "kg*" * 10_000 + "kg"),
        "a power of powers": (WEIGHTS, lambda: "name,mass\nlead,9**9**9**9 kg"),
        "50 000 rows": (WEIGHTS, lambda: "name,mass\n" + "lead,3\n" * 50_000),
        "offsets with 50 000 spaces": (OFFSETS, lambda: "from aft" + " " * 50_000 + "(mm),a,b,c,d\n1,2,3,4,5"),
        "offsets of a million columns": (OFFSETS, lambda: ",".join(["1"] * 29_000)),
        "offsets of 50 000 digits": (OFFSETS, lambda: "1" * 50_000 + ",2,3,4,5"),
        "a bench of 100 000 readings": (POINTS, lambda: "throttle,reading\n" + "10,2\n" * 100_000),
        "a part of 100 000 digits": (PARTS, lambda: "kind,name,mass\nmotor,x," + "9" * 100_000),
    }
    return [(where, name, "a.csv", _bytes(make)) for name, (where, make) in cases.items()]


CASES: tuple[Case, ...] = (*_boats(), *_meshes(), *_photos(), *_tables())
"""Where it is sent, what it is, the file's name, and how it is made."""
