"""The yard and the instruments, handed to routes."""

from typing import Annotated

from fastapi import Depends, Request

from yarekeel.instruments.shelf import Shelf
from yarekeel.store.records import Revision
from yarekeel.store.yard import Yard


def _yard(request: Request) -> Yard:
    yard = request.app.state.yard
    assert isinstance(yard, Yard)
    return yard


def _shelf(request: Request) -> Shelf:
    shelf = request.app.state.shelf
    assert isinstance(shelf, Shelf)
    return shelf


def _revision(request: Request, boat_id: int, letter: str) -> Revision:
    return _yard(request).revision(boat_id, letter)


RevisionDep = Annotated[Revision, Depends(_revision)]
"""The revision of the address, looked for before anything of the answer is sent."""
YardDep = Annotated[Yard, Depends(_yard)]
ShelfDep = Annotated[Shelf, Depends(_shelf)]
