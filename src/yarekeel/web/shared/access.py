"""The yard and the instruments, handed to routes."""

from typing import Annotated

from fastapi import Depends, Request

from yarekeel.instruments.shelf import Shelf
from yarekeel.store.yard import Yard


def _yard(request: Request) -> Yard:
    yard = request.app.state.yard
    assert isinstance(yard, Yard)
    return yard


def _shelf(request: Request) -> Shelf:
    shelf = request.app.state.shelf
    assert isinstance(shelf, Shelf)
    return shelf


YardDep = Annotated[Yard, Depends(_yard)]
ShelfDep = Annotated[Shelf, Depends(_shelf)]
