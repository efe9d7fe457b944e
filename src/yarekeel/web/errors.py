"""One table from the core's errors to a status; every one becomes a page or an answer with its one sentence."""

import logging

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import HTMLResponse, JSONResponse, Response
from starlette.exceptions import HTTPException

from yarekeel.core.errors import Conflict, InvalidInput, NoAnswer, NoRest, NotFound, YareKeelError
from yarekeel.store.faults import StoreFault
from yarekeel.web.templating import render
from yarekeel.web.waiting import WENT_WRONG

STATUS: tuple[tuple[type[YareKeelError], int], ...] = (
    (NotFound, 404),
    (Conflict, 409),
    (StoreFault, 503),
    (InvalidInput, 422),
    (NoRest, 422),
    (NoAnswer, 422),
    (YareKeelError, 422),
)
_log = logging.getLogger("yarekeel")


def status_of(error: YareKeelError) -> int:
    """The status that an error answers with."""
    return next(status for kind, status in STATUS if isinstance(error, kind))


def install(app: FastAPI) -> None:
    """Attach the handlers."""

    @app.exception_handler(YareKeelError)
    async def known(request: Request, error: YareKeelError) -> Response:
        return _answer(request, status_of(error), str(error))

    @app.exception_handler(RequestValidationError)
    async def malformed(request: Request, error: RequestValidationError) -> Response:
        return _answer(request, 422, "This request was not understood; reload the page and try again.")

    @app.exception_handler(HTTPException)
    async def http(request: Request, error: HTTPException) -> Response:
        words = {404: "There is no such page.", 405: "This address takes no such request."}
        return _answer(request, error.status_code, words.get(error.status_code, str(error.detail)))

    @app.exception_handler(Exception)
    async def unknown(request: Request, error: Exception) -> Response:
        _log.exception("unexpected error", exc_info=error)
        return _answer(request, 500, WENT_WRONG)


def _answer(request: Request, status: int, sentence: str) -> Response:
    if "application/json" in request.headers.get("accept", ""):
        return JSONResponse({"message": sentence}, status)
    return HTMLResponse(render("shared/sorry.html", sentence=sentence, status=status), status)
