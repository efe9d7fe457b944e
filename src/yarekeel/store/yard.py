"""The yard: boats, their revisions, snapshots and trials, as records."""

import dataclasses
import json
import threading
import zlib
from collections import defaultdict
from hashlib import sha256
from pathlib import Path
from typing import Any

import numpy as np
import sqlalchemy
from cachetools import LRUCache
from sqlalchemy import Engine, bindparam, func
from sqlalchemy.orm import aliased
from sqlmodel import Session, col, select

from yarekeel.core.errors import Conflict, InvalidInput, NotFound
from yarekeel.core.geometry.families import MeshFile
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.exchange import boat_file, mesh_in, mesh_out, trial_file
from yarekeel.stages.design.design import Design
from yarekeel.stages.trials.trials import FloatTest
from yarekeel.store.backups import Daily
from yarekeel.store.berths import DEMO, Berths
from yarekeel.store.bin import Bin
from yarekeel.store.predictions import Predictions, add_prediction
from yarekeel.store.records import Boat, Revision, TrialRecord, Unreadable, letter_of
from yarekeel.store.rows import BoatRow, MeshRow, PhotoRow, RevisionRow, SnapshotRow, TrackRow, TrialRow, now
from yarekeel.store.sheets import Sheets
from yarekeel.store.states import States, move_head
from yarekeel.store.tidying import tidy
from yarekeel.store.transactions import reading, writing

MOST_MESHES = 12
"""Meshes held in memory."""


class Yard:
    """All reads and writes. Each call is one transaction; a call that returns has saved."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine
        self.units_known: dict[int, str] = {}
        """Of boats that were asked of: asked at every address."""
        self._meshes: LRUCache[str, Mesh] = LRUCache(MOST_MESHES)
        self._meshes_lock = threading.Lock()
        self._being_read: defaultdict[str, threading.Lock] = defaultdict(threading.Lock)
        self._states = States()
        self._daily = Daily(Path(engine.url.database or ""))

    @property
    def backup_fault(self) -> str:
        """Why today's backup could not be made; empty where nothing stands in its way."""
        return self._daily.fault

    def close(self) -> None:
        """Let go of the file."""
        self._engine.dispose()

    def tidy(self) -> None:
        """Let go of what the rules for old things say."""
        tidy(self._engine)

    @property
    def berths(self) -> Berths:
        """The list of boats."""
        return Berths(self._engine)

    @property
    def bin(self) -> Bin:
        """The yard's parts."""
        return Bin(self._engine)

    @property
    def predictions(self) -> Predictions:
        """What was predicted of revisions."""
        return Predictions(self._engine)

    @property
    def engine(self) -> Engine:
        """The database, for what reads and writes whole boats (``archives``)."""
        return self._engine

    @property
    def sheets(self) -> Sheets:
        """Pond sheets and what was entered on them."""
        return Sheets(self._engine)

    def boats_with(self, key: str) -> list[str]:
        """Boats, with the revision, that are worked on and have a part of the bin fitted."""
        mark = json.dumps(key)
        with reading(self._engine) as session:
            numbers = session.exec(select(BoatRow.id).where(col(BoatRow.deleted_at).is_(None)).order_by(col(BoatRow.id).desc())).all()
            heads = {n: session.execute(_LAST_HEAD, {"boat": n}).scalar_one() for n in numbers if n is not None}
            named = [n for n, head in heads.items() if mark in self._text_or_none(session, head)]
        latest = [b.latest for b in map(self.boat, named) if b.revisions]
        return [f"{r.design.name} {r.letter}" for r in latest if not r.is_sealed and any(f.part == key for f in r.design.drive.fitted)]

    def _text_or_none(self, session: Session, state: int) -> str:
        try:
            return self._states.text(session, state)
        except InvalidInput:
            return ""

    # Reading

    def boats(self) -> list[Boat]:
        """Every boat not deleted, newest first."""
        with reading(self._engine) as session:
            numbers = session.exec(select(BoatRow.id).where(col(BoatRow.deleted_at).is_(None)).order_by(col(BoatRow.id).desc()))
            return [self._boat(session, number) for number in numbers.all() if number is not None]

    def boat(self, boat_id: int) -> Boat:
        """One boat. Raises NotFound."""
        with reading(self._engine) as session:
            return self._boat(session, boat_id)

    def revision(self, boat_id: int, letter: str) -> Revision:
        """One revision. Raises NotFound."""
        return self.boat(boat_id).revision(letter)

    def document(self, boat_id: int, letter: str) -> str | None:
        """The file of a revision that cannot be read, as it was kept; None for one that can. Raises NotFound."""
        return next((lost.document for lost in self.boat(boat_id).unreadable if lost.letter == letter), None)

    def deleted_name(self, boat_id: int) -> str | None:
        """Name of a boat that was deleted and can be restored, else None."""
        with reading(self._engine) as session:
            row = session.get(BoatRow, boat_id)
            if row is None or row.deleted_at is None:
                return None
            boat = self._boat(session, boat_id, deleted=True)
            return boat.latest.design.name if boat.revisions else boat.unreadable[-1].name

    # Boats

    def create(self, design: Design, units: str, made_by: str = "") -> int:
        """A new boat at revision A; its number. ``made_by`` says "demo" of one that comes with the program."""
        self._daily.used()
        with writing(self._engine) as session:
            boat = BoatRow(units=units, made_by=made_by)
            session.add(boat)
            session.flush()
            assert boat.id is not None
            self.add_revision(session=session, boat_id=boat.id, number=0, follows=None, note="", design=design, label="first state")
            return boat.id

    def duplicate(self, boat_id: int) -> int:
        """A copy of the latest revision as a new boat; its number."""
        boat = self.boat(boat_id)
        design = boat.latest.design
        return self.create(dataclasses.replace(design, name=f"{design.name} copy"[:80]), boat.units)

    def delete(self, boat_id: int) -> None:
        """Take a boat out of the yard; restore() brings it back."""
        self._mark(boat_id, deleted=True)

    def restore(self, boat_id: int) -> None:
        """Bring a deleted boat back."""
        self._mark(boat_id, deleted=False)

    def units_of(self, boat_id: int) -> str | None:
        """The units that a boat is read in; None where there is no such boat."""
        units = self.berths.units_of(boat_id)
        if units is not None:
            self.units_known[boat_id] = units
        return units

    def set_units(self, boat_id: int, units: str) -> None:
        """The units a boat is shown in."""
        with writing(self._engine) as session:
            self._boat_row(session, boat_id).units = units
        self.units_known[boat_id] = units

    def clear(self) -> None:
        """Empty the yard for good (for restoring the demo, in its own folder)."""
        with writing(self._engine) as session:
            for row in session.exec(select(BoatRow)).all():
                session.delete(row)

    def own_names(self) -> tuple[str, ...]:
        """Names of boats in the yard that did not come with the program."""
        with reading(self._engine) as session:
            rows = session.execute(_OWN_NAMES).scalars().all()
            return tuple(dict.fromkeys(rows))

    def is_empty(self) -> bool:
        """Whether there never was a boat."""
        with reading(self._engine) as session:
            return session.exec(select(func.count(col(BoatRow.id)))).one() == 0

    # Revisions

    def save(self, boat_id: int, letter: str, design: Design, on: int, label: str, units: str | None = None) -> Revision:
        """Append a snapshot made on snapshot ``on``, with the units that the boat is read in from then on. Raises Conflict if the revision
        is sealed or has moved on."""
        self._daily.used()
        with writing(self._engine) as session:
            revision = self._open(session, boat_id, letter)
            snapshot = self._states.add(session=session, revision_id=revision.id, parent=on, design=design, label=label)
            if units is not None:
                self._boat_row(session, boat_id).units = units
        if units is not None:
            self.units_known[boat_id] = units
        after = dataclasses.replace(revision, snapshot=snapshot, design=design, undo_label=label, redo_label=None)
        return after if units is None else dataclasses.replace(after, units=units)

    def undo(self, boat_id: int, letter: str, on: int) -> Revision:
        """Step back to the state that snapshot ``on`` was made from."""
        return self._step(boat_id, letter, on, back=True)

    def redo(self, boat_id: int, letter: str, on: int) -> Revision:
        """Step forward to the newest state made from snapshot ``on``."""
        return self._step(boat_id, letter, on, back=False)

    def follow(self, boat_id: int, letter: str, design: Design, note: str, expected: dict[str, Any] | None = None) -> Revision:
        """The next revision of the boat, made from ``letter``, with what is ``expected`` of it. Each of several that are
        started at once gets a letter of its own."""
        with writing(self._engine) as session:
            boat = self._boat(session, boat_id)
            number = boat.next_number
            row = self.add_revision(
                session=session,
                boat_id=boat_id,
                number=number,
                follows=boat.revision(letter).number,
                note=note,
                design=design,
                label=note or f"from {letter}",
            )
            if expected is not None:
                add_prediction(session, row, "expected", expected)
        return self.revision(boat_id, letter_of(number))

    # Trials

    def log_trial(self, boat_id: int, letter: str, test: FloatTest, key: str | None = None) -> TrialRecord:
        """Keep a trial; the revision it ran on is sealed from here. One of the same ``key`` is kept once, whatever comes with it."""
        kind, version, document = trial_file.write(test)
        with writing(self._engine) as session:
            revision = self._boat(session, boat_id).revision(letter).id
            kept = session.exec(select(TrialRow).where(TrialRow.key == key)).first() if key is not None else None
            if kept is None:
                row = TrialRow(revision_id=revision, kind=kind, version=version, key=key, document=document)
                session.add(row)
                session.flush()
                return TrialRecord(row.id or 0, letter, test)
            if kept.revision_id != revision:
                raise Conflict("This form was sent for another revision already; open a new one.")
            return TrialRecord(kept.id or 0, letter, trial_file.read(kept.kind, kept.version, kept.document))

    # Meshes

    def keep_mesh(self, mesh: Mesh) -> MeshFile:
        """Keep a mesh (metres, forward x, up z) and give the shape that names it; the same mesh is kept once."""
        data = mesh_out.write(mesh, "ply", per_metre=1.0)
        name = f"mesh-{sha256(data).hexdigest()[:16]}.ply"
        _keep_once(self._engine, MeshRow(name=name, data=data))
        return MeshFile(name, "m", mesh=self._mesh(name))

    def mesh_data(self, name: str) -> bytes:
        """The bytes of a kept mesh. Raises NotFound."""
        with reading(self._engine) as session:
            row = session.get(MeshRow, name)
            if row is None:
                raise NotFound(f"The mesh {name[:60]} is not in the yard.")
            return row.data

    # Photos

    def keep_photo(self, data: bytes) -> str:
        """Keep a photo's bytes and give the name they are kept under; the same photo is kept once."""
        name = f"photo-{sha256(data).hexdigest()[:16]}.jpg"
        _keep_once(self._engine, PhotoRow(name=name, data=data))
        return name

    def photo_data(self, name: str) -> bytes:
        """The bytes of a kept photo. Raises NotFound."""
        with reading(self._engine) as session:
            row = session.get(PhotoRow, name)
            if row is None:
                raise NotFound(f"The photo {name[:60]} is not in the yard.")
            return row.data

    # Tracks

    def keep_track(self, data: bytes, ending: str) -> str:
        """Keep a track's file and give the name it is kept under; the same track is kept once."""
        name = f"track-{sha256(data).hexdigest()[:16]}.{ending}"
        _keep_once(self._engine, TrackRow(name=name, data=zlib.compress(data)))
        return name

    def track_data(self, name: str) -> bytes:
        """The file of a kept track. Raises NotFound."""
        with reading(self._engine) as session:
            row = session.get(TrackRow, name)
            if row is None:
                raise NotFound(f"The track {name[:60]} is not in the yard.")
            return zlib.decompress(row.data)

    def _mesh(self, name: str) -> Mesh:
        """A kept mesh, read once and then shared: two designs with one mesh are equal. One that is being read holds up no other."""
        with self._meshes_lock:
            if (known := self._meshes.get(name)) is not None:
                return known
            reader = self._being_read[name]
        with reader:
            if (known := self._meshes.get(name)) is None:
                raw = mesh_in.read(self.mesh_data(name), name)
                known = Mesh(raw.vertices.astype(np.float64), raw.faces)
            with self._meshes_lock:
                self._meshes[name] = known
                self._being_read.pop(name, None)
            return known

    # Inside

    def _mark(self, boat_id: int, *, deleted: bool) -> None:
        with writing(self._engine) as session:
            row = session.get(BoatRow, boat_id)
            if row is None or bool(row.deleted_at) == deleted:
                raise NotFound("There is no such boat in the yard.")
            row.deleted_at = now() if deleted else None

    def _boat_row(self, session: Session, boat_id: int) -> BoatRow:
        row = session.get(BoatRow, boat_id)
        if row is None or row.deleted_at is not None:
            raise NotFound("There is no such boat in the yard.")
        return row

    def _open(self, session: Session, boat_id: int, letter: str) -> Revision:
        revision = self._boat(session, boat_id).revision(letter)
        if revision.is_sealed:
            raise Conflict(f"Revision {letter} has a trial on it and is sealed; start the next revision to change it.")
        return revision

    def add_revision(self, session: Session, boat_id: int, number: int, follows: int | None, note: str, design: Design, label: str) -> int:
        """Add a revision with its first state; the number of its row."""
        row = RevisionRow(boat_id=boat_id, number=number, follows=follows, note=note)
        session.add(row)
        session.flush()
        assert row.id is not None
        self._states.add(session=session, revision_id=row.id, parent=None, design=design, label=label)
        return row.id

    def _step(self, boat_id: int, letter: str, on: int, *, back: bool) -> Revision:
        with writing(self._engine) as session:
            revision = self._open(session, boat_id, letter)
            head = session.get(SnapshotRow, on)
            target = None if head is None else head.parent_id if back else self._next(session, on)
            if target is None:
                raise Conflict("There is nothing to undo." if back else "There is nothing to redo.")
            move_head(session, revision.id, on, target)
        return self.revision(boat_id, letter)

    def _next(self, session: Session, snapshot_id: int) -> int | None:
        return session.exec(select(SnapshotRow.id).where(SnapshotRow.parent_id == snapshot_id).order_by(col(SnapshotRow.id).desc())).first()

    def _boat(self, session: Session, boat_id: int, *, deleted: bool = False) -> Boat:
        """A boat with all that hangs on it, in two queries whatever its number of revisions. Raises NotFound."""
        rows = session.execute(_REVISIONS, {"boat": boat_id}).all()
        if not rows or bool(rows[0].deleted_at) != deleted:
            raise NotFound("There is no such boat in the yard.")
        letters = {row.id: letter_of(row.number) for row in rows}
        trials: dict[int, list[TrialRecord]] = {number: [] for number in letters}
        lost_trials: dict[int, list[str]] = {number: [] for number in letters}
        sealed = set()
        for t in session.execute(_TRIALS, {"boat": boat_id}):
            sealed.add(t.revision_id)
            try:
                trials[t.revision_id].append(TrialRecord(t.id, letters[t.revision_id], trial_file.read(t.kind, t.version, t.document)))
            except InvalidInput as error:  # it still seals, though it cannot be shown
                lost_trials[t.revision_id].append(str(error))
        designs: dict[int, Design] = {}
        lost = []
        for row in rows:
            try:
                designs[row.id] = boat_file.with_meshes(self._states.design(session, row.head_id), lambda shape, _: self._mesh(shape.file))
            except (InvalidInput, NotFound) as error:
                text = self._text_or_none(session, row.head_id)
                lost.append(Unreadable(boat_id=boat_id, letter=letters[row.id], name=row.name, why=str(error), document=text))
        revisions = (
            Revision(
                id=row.id,
                boat_id=boat_id,
                number=row.number,
                letter=letters[row.id],
                follows=None if row.follows is None else letter_of(row.follows),
                note=row.note,
                units=row.units,
                snapshot=row.head_id,
                design=designs[row.id],
                trials=tuple(trials[row.id]),
                undo_label=row.label if row.parent_id else None,
                redo_label=row.ahead,
                is_sealed=row.id in sealed,
                lost_trials=tuple(lost_trials[row.id]),
            )
            for row in rows
            if row.id in designs
        )
        return Boat(boat_id, rows[0].units, tuple(revisions), tuple(lost))


def _keep_once(engine: Engine, row: MeshRow | PhotoRow | TrackRow) -> None:
    """Add a row whose name is its content's: one that is there already is the same."""
    with writing(engine) as session:
        if session.get(type(row), row.name) is None:
            session.add(row)


_LATER = aliased(SnapshotRow)
_AHEAD = (
    select(_LATER.label)
    .where(_LATER.revision_id == RevisionRow.id, _LATER.parent_id == RevisionRow.head_id)
    .order_by(col(_LATER.id).desc())
    .limit(1)
    .scalar_subquery()
)
_HEAD = SnapshotRow.__table__.c  # type: ignore[attr-defined]
_REVISION = RevisionRow.__table__.c  # type: ignore[attr-defined]
_OF_BOAT = (BoatRow.__table__.c.units, BoatRow.__table__.c.deleted_at)  # type: ignore[attr-defined]
_REVISIONS = (
    sqlalchemy.select(*_OF_BOAT, *_REVISION, _HEAD.parent_id, _HEAD.label, _HEAD.name, _AHEAD.label("ahead"))
    .join_from(BoatRow, RevisionRow, col(RevisionRow.boat_id) == BoatRow.id)
    .join(SnapshotRow, _HEAD.id == _REVISION.head_id)
    .where(col(BoatRow.id) == bindparam("boat"))
    .order_by(_REVISION.number)
)
"""A boat's revisions with their heads and the label of the newest state made from each."""
_TRIAL = TrialRow.__table__.c  # type: ignore[attr-defined]
_LAST_HEAD = sqlalchemy.select(_REVISION.head_id).where(_REVISION.boat_id == bindparam("boat")).order_by(_REVISION.number.desc()).limit(1)
_OWN_NAMES = (
    sqlalchemy.select(_HEAD.name)
    .join_from(BoatRow, RevisionRow, _REVISION.boat_id == col(BoatRow.id))
    .join(SnapshotRow, _HEAD.id == _REVISION.head_id)
    .where(col(BoatRow.made_by) != DEMO, col(BoatRow.deleted_at).is_(None))
    .order_by(col(BoatRow.id))
)
_TRIALS = (
    sqlalchemy.select(_TRIAL.id, _TRIAL.revision_id, _TRIAL.kind, _TRIAL.version, _TRIAL.document)
    .join_from(TrialRow, RevisionRow, _REVISION.id == TrialRow.revision_id)
    .where(_REVISION.boat_id == bindparam("boat"))
    .order_by(_TRIAL.id)
)
