"""Events sent to a page as they come: an instrument's readings, work that goes on for a while."""

import asyncio
from collections.abc import AsyncIterator, Callable
from typing import Any, TypeVar

from fastapi.sse import ServerSentEvent

from yarekeel.instruments.bench import Bench, Numbered
from yarekeel.instruments.shelf import Shelf
from yarekeel.plain_text import whole

R = TypeVar("R", bound=Numbered)


async def readings(
    shelf: Shelf, bench: Bench[R], last_event_id: str, shown: Callable[[list[R]], Any], pause: float
) -> AsyncIterator[ServerSentEvent]:
    """Readings from the one after the last that the page has, a batch at a time; a page that lost its line misses none."""
    number = bench.newest if (last := whole(last_event_id)) is None else last
    while shelf.is_open:  # not for ever: a program that is told to end must not wait for its pages
        batch = bench.after(number)
        if batch:
            number = batch[-1].number
            yield ServerSentEvent(data=shown(batch), id=str(number))
        await asyncio.sleep(pause)


def step(**data: Any) -> ServerSentEvent:
    """How far a long piece of work has come."""
    return ServerSentEvent(data=data)


def end(**data: Any) -> ServerSentEvent:
    """What came out of it; the page then closes its line."""
    return ServerSentEvent(data=data, event="end")
