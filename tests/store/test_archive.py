"""A boat with everything, out and in: equal, the same bytes the second time, and a sentence for an archive that means harm."""

import dataclasses
import io
import json
import zipfile

import pytest
from PIL import Image

from tests.bodies import spheroid
from yarekeel.core.errors import InvalidInput
from yarekeel.exchange import archive, photo, reading
from yarekeel.stages.trials.sheet import Entry
from yarekeel.stages.trials.trials import FloatTest
from yarekeel.store import archives
from yarekeel.store.engine import open_database
from yarekeel.store.yard import Yard


def picture(seed: int) -> bytes:
    out = io.BytesIO()
    Image.effect_noise((80 + seed, 60), 60).convert("RGB").save(out, "JPEG")
    return photo.small(out.getvalue())


@pytest.fixture
def full(demo_yard: Yard) -> int:
    """The skimmer with a mesh, a photo on a weight, a sheet with a photo and a track, an expectation and a second trial."""
    revision = demo_yard.revision(2, "B")
    weights = (dataclasses.replace(revision.design.weights[0], photo=demo_yard.keep_photo(picture(0))), *revision.design.weights[1:])
    bodies = (
        *revision.design.bodies,
        dataclasses.replace(
            revision.design.bodies[0], name="cover", role="fairing", shape=demo_yard.keep_mesh(spheroid(0.2, 0.1, 0.05, 12, 10))
        ),
    )
    design = dataclasses.replace(revision.design, weights=weights, bodies=bodies)
    demo_yard.save(boat_id=2, letter="B", design=design, on=revision.snapshot, label="more")
    sheet = demo_yard.sheets.sheet(
        demo_yard.sheets.open(revision.id, "mill pond", {"card": {"expected": []}, "boat": "x", "letter": "B", "units": "mm_g"})
    )
    demo_yard.sheets.add(sheet, Entry("a" * 8, "photo", "2026-05-14T10:00:00Z", {"caption": "bow"}, demo_yard.keep_photo(picture(1))))
    track = b"time,speed\n" + b"".join(b"%d,2\n" % k for k in range(20))
    demo_yard.sheets.add(
        sheet, Entry("b" * 8, "track", "2026-05-14T10:01:00Z", {"file": demo_yard.keep_track(track, "csv"), "name": "day.csv"})
    )
    demo_yard.predictions.keep(revision.id, "expected", {"what": "x", "rows": []})
    demo_yard.log_trial(2, "B", FloatTest("2026-05-14", mass_kg=4.6, seen=("tippy",), photos=(demo_yard.keep_photo(picture(1)),)))
    return 2


def test_out_and_in_again_is_equal_and_byte_stable(demo_yard, full, tmp_path):
    data = archives.written(demo_yard, full)
    assert archives.written(demo_yard, full) == data
    other = Yard(open_database(tmp_path / "other.db"))
    number = archives.brought(other, reading.everything(data))
    assert archives.written(other, number) == data
    one, two = demo_yard.boat(full), other.boat(number)
    for a, b in zip(one.revisions, two.revisions, strict=True):
        assert (a.letter, a.note, a.follows) == (b.letter, b.note, b.follows)
        assert [t.test for t in a.trials] == [t.test for t in b.trials]
        assert a.design.weights == b.design.weights
        assert [p.figures for p in demo_yard.predictions.of(a.id)] == [p.figures for p in other.predictions.of(b.id)]
        for s, t in zip(demo_yard.sheets.of(a.id), other.sheets.of(b.id), strict=True):
            assert demo_yard.sheets.entries(s) == other.sheets.entries(t)
            assert s.date == t.date
    assert two.revisions[-1].is_sealed
    other.close()


def test_through_the_pages_and_the_command(client, demo_yard, full, tmp_path, monkeypatch):
    sent = client.get(f"/boats/{full}/archive.zip")
    assert "archive" in sent.headers["content-disposition"]
    back = client.post("/boats/import", files={"file": ("a.zip", sent.content, "application/zip")}, follow_redirects=False)
    assert back.status_code == 303
    new = int(back.headers["location"].split("/")[2])
    assert archives.written(demo_yard, new) == sent.content
    from yarekeel.cli.commands import archive_command
    from yarekeel.core.errors import YareKeelError

    out = tmp_path / "boat.zip"
    archive_command(str(full), out, tmp_path)
    assert out.read_bytes() == sent.content
    for boat, file, said in (
        (str(full), out, "there already"),
        ("none such", tmp_path / "b.zip", "no boat"),
        ("Reedwarden", tmp_path / "b.zip", "by its number"),
    ):
        with pytest.raises(YareKeelError, match=said):
            archive_command(boat, file, tmp_path)


def changed(data: bytes, **files: bytes) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as box, zipfile.ZipFile(out, "w") as new:
        for name in box.namelist():
            new.writestr(name, files.pop(name.replace(".", "_").replace("/", "_"), None) or box.read(name))
    return out.getvalue()


def test_an_archive_that_means_harm_is_one_sentence(demo_yard, full):
    data = archives.written(demo_yard, full)
    with zipfile.ZipFile(io.BytesIO(data)) as box:
        index = json.loads(box.read("archive.json"))
    bad = {
        "a path": {**index, "revisions": [{**index["revisions"][0], "boat": "../../etc/passwd"}]},
        "another version": {**index, "version": 2},
        "a field more": {**index, "owner": "x"},
        "no revisions": {**index, "revisions": []},
        "two of one letter": {**index, "revisions": [index["revisions"][0]] * 2},
        "a trial of tomorrow": {
            **index,
            "revisions": [{**index["revisions"][0], "trials": [{"kind": "float", "version": 99, "kept": "", "figures": {}}]}],
        },
        "a name that is a path": {
            **index,
            "revisions": [
                {**index["revisions"][0], "trials": [{"kind": "float", "version": 3, "kept": "", "figures": {"photos": ["archive.json"]}}]}
            ],
        },
        "a photo that is not there": {
            **index,
            "revisions": [
                {
                    **index["revisions"][0],
                    "sheets": [
                        {
                            "place": "",
                            "opened": "",
                            "shows": {},
                            "entries": [{"key": "k", "code": "photo", "at": "", "typed": {}, "photo": "photo-0123456789abcdef.jpg"}],
                        }
                    ],
                }
            ],
        },
    }
    for what, value in bad.items():
        with pytest.raises(InvalidInput) as refused:
            reading.everything(changed(data, archive_json=json.dumps(value).encode()))
        assert len(refused.value.sentence) < 200, what
    assert not archive.is_archive(b"PK\x03\x04 nothing")
    assert not archive.is_archive(b"")


def test_a_strangers_photo_is_made_plain(demo_yard, full):
    out = io.BytesIO()
    Image.new("RGB", (50, 50)).save(out, "JPEG", comment=b"where I live")
    assert not photo.is_clean(out.getvalue())
    assert photo.is_clean(picture(3))
    data = archives.written(demo_yard, full)
    with zipfile.ZipFile(io.BytesIO(data)) as box:
        name = next(n for n in box.namelist() if n.startswith("photo-"))
    files = {name.replace(".", "_").replace("/", "_"): out.getvalue()}
    found = reading.everything(changed(data, **files))
    assert b"where I live" not in found.photos[name]
