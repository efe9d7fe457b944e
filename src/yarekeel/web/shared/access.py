"""The yard, handed to routes."""

from typing import Annotated

from fastapi import Depends, Request

from yarekeel.store.yard import Yard


def _yard(request: Request) -> Yard:
    yard = request.app.state.yard
    assert isinstance(yard, Yard)
    return yard


YardDep = Annotated[Yard, Depends(_yard)]
