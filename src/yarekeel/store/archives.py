"""A boat with everything, out of the yard and into it."""

import dataclasses
import json
import secrets
from collections.abc import Mapping
from datetime import UTC, datetime
from typing import Any

from sqlmodel import Session, col, select

from yarekeel.core.errors import NotFound
from yarekeel.core.geometry.families import MeshFile
from yarekeel.exchange import archive
from yarekeel.exchange.archive import Archive, DocumentKept, EntryKept, Index, RevisionKept, SheetKept
from yarekeel.stages.design.design import Design
from yarekeel.store.records import letter_of
from yarekeel.store.rows import BoatRow, EntryRow, PredictionRow, RevisionRow, SheetRow, TrialRow
from yarekeel.store.transactions import reading, writing
from yarekeel.store.yard import Yard
from yarekeel.units import SYSTEMS


def _moment(row: Any) -> str:
    when: datetime = row.created_at
    return (when if when.tzinfo else when.replace(tzinfo=UTC)).isoformat()


def written(yard: Yard, boat_id: int) -> bytes:
    """The archive of a boat. Raises NotFound for a revision that cannot be read: its file is saved from the yard."""
    boat = yard.boat(boat_id)
    if boat.unreadable:
        raise NotFound(f"Revision {boat.unreadable[0].letter} cannot be read; save its file from the yard first.")
    with reading(yard.engine) as session:
        kept = tuple(_revision(session, r.id, r.number, r.note) for r in boat.revisions)
    designs = {r.number: r.design for r in boat.revisions}

    of = {"photo": yard.photo_data, "track": yard.track_data, "mesh": yard.mesh_data}
    index = Index(format=archive.FORMAT, version=archive.VERSION, units=boat.units, revisions=list(kept))
    return archive.write(index, designs, lambda name: of[name.partition("-")[0]](name))


def _revision(session: Session, revision: int, number: int, note: str) -> RevisionKept:
    row = session.get(RevisionRow, revision)
    trials = session.exec(select(TrialRow).where(TrialRow.revision_id == revision).order_by(col(TrialRow.id))).all()
    predictions = session.exec(select(PredictionRow).where(PredictionRow.revision_id == revision).order_by(col(PredictionRow.id))).all()
    sheets = session.exec(select(SheetRow).where(SheetRow.revision_id == revision).order_by(col(SheetRow.id))).all()
    return RevisionKept(
        number=number,
        follows=row.follows if row else None,
        note=note,
        boat=f"revisions/{letter_of(number)}.json",
        trials=[DocumentKept(kind=t.kind, version=t.version, kept=_moment(t), figures=json.loads(t.document)) for t in trials],
        predictions=[DocumentKept(kind=p.kind, kept=_moment(p), figures=json.loads(p.document)) for p in predictions],
        sheets=[_sheet(session, s) for s in sheets],
    )


def _sheet(session: Session, sheet: SheetRow) -> SheetKept:
    rows = session.exec(select(EntryRow).where(EntryRow.sheet_id == sheet.id).order_by(col(EntryRow.id))).all()
    entries = [EntryKept(key=r.key, photo=r.photo, **json.loads(r.document)) for r in rows]
    return SheetKept(place=sheet.place, opened=_moment(sheet), shows=json.loads(sheet.document), entries=entries)


def brought(yard: Yard, found: Archive) -> int:
    """A new boat from an archive: all of its revisions and what hangs on them; its number. What is named is kept first."""
    names = {name: yard.keep_photo(data) for name, data in found.photos.items()}
    for name, data in found.tracks.items():
        names[name] = yard.keep_track(data, name.rpartition(".")[2])
    units = found.index.units if found.index.units in SYSTEMS else "mm_g"
    designs = {number: _with_kept(yard, design, names) for number, design in found.designs.items()}
    ordered = sorted(found.index.revisions, key=lambda r: r.number)
    numbered = {r.number: k for k, r in enumerate(ordered)}
    with writing(yard.engine) as session:
        boat = BoatRow(units=units)
        session.add(boat)
        session.flush()
        assert boat.id is not None
        for k, revision in enumerate(ordered):
            before = numbered.get(revision.follows if revision.follows is not None else -1, 0)
            row = yard.add_revision(
                session=session,
                boat_id=boat.id,
                number=k,
                follows=min(before, k - 1) if k else None,
                note=revision.note,
                design=designs[revision.number],
                label=revision.note or "brought in",
            )
            _hang(session, row, revision, names)
        return boat.id


def _with_kept(yard: Yard, design: Design, names: Mapping[str, str]) -> Design:
    weights = tuple(dataclasses.replace(w, photo=names.get(w.photo, "")) if w.photo else w for w in design.weights)
    bodies = tuple(
        dataclasses.replace(b, shape=yard.keep_mesh(b.shape.build())) if isinstance(b.shape, MeshFile) else b for b in design.bodies
    )
    return dataclasses.replace(design, bodies=bodies, weights=weights)


def _hang(session: Session, revision: int, kept: RevisionKept, names: Mapping[str, str]) -> None:
    for t in kept.trials:
        figures = {**t.figures, "photos": [names.get(n, n) for n in t.figures.get("photos", ())]} if "photos" in t.figures else t.figures
        document = json.dumps(figures, ensure_ascii=False, allow_nan=False)
        session.add(TrialRow(revision_id=revision, kind=t.kind, version=t.version, document=document, created_at=_when(t.kept)))
    for p in kept.predictions:
        document = json.dumps(p.figures, allow_nan=False, sort_keys=True)
        session.add(PredictionRow(revision_id=revision, kind=p.kind, document=document, created_at=_when(p.kept)))
    for s in kept.sheets:
        sheet = SheetRow(
            revision_id=revision,
            code=secrets.token_urlsafe(9),
            place=s.place,
            document=json.dumps(s.shows, allow_nan=False),
            created_at=_when(s.opened),
        )
        session.add(sheet)
        session.flush()
        assert sheet.id is not None
        for e in s.entries:
            typed = {**e.typed, "file": names.get(e.typed["file"], e.typed["file"])} if e.code == "track" else e.typed
            document = json.dumps({"code": e.code, "at": e.at, "typed": typed}, ensure_ascii=False)
            session.add(EntryRow(sheet_id=sheet.id, key=e.key, document=document, photo=names.get(e.photo) if e.photo else None))


def _when(text: str) -> datetime:
    try:
        when = datetime.fromisoformat(text)
    except ValueError:
        return datetime.now(UTC)
    return when if when.tzinfo else when.replace(tzinfo=UTC)
