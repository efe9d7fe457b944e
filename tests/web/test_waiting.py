"""Answers that take long: told, watched, stopped, fetched; left ones end; saving does not."""

import asyncio
import http.client
import json
import re
import threading
import time
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor

import pytest
import uvicorn
from fastapi import FastAPI, Form
from fastapi.responses import HTMLResponse, JSONResponse, RedirectResponse

from yarekeel.apart import Budget, apart, end_all
from yarekeel.core.errors import InvalidInput
from yarekeel.core.stopping import Stopped, Work, begin, checkpoint, stop_everything, stoppable, told
from yarekeel.web import waiting
from yarekeel.web.serving import free_socket
from yarekeel.web.waiting import Patience


class Slow:
    """An application whose work takes as long as the test lets it."""

    def __init__(self) -> None:
        self.go, self.ended, self.stopped, self.saved = threading.Event(), threading.Event(), threading.Event(), threading.Event()
        self.app = FastAPI()
        self.app.add_middleware(Patience)
        self.app.get("/slow")(self.page)
        self.app.get("/file")(self.file)
        self.app.post("/save")(self.save)
        self.app.post("/import")(self.bring)
        self.app.get("/quick")(lambda: HTMLResponse("<p>quick</p>"))
        self.app.get("/broken")(self.broken)

    def work(self) -> None:
        try:
            for k in range(2000):
                told("counts sheep", k / 2000)
                if self.go.wait(0.005):
                    return
        except Stopped:
            self.stopped.set()
            raise
        finally:
            self.ended.set()

    def page(self) -> HTMLResponse:
        self.work()
        return HTMLResponse("<p>worked out</p>")

    def file(self) -> JSONResponse:
        self.work()
        return JSONResponse({"done": True})

    def save(self) -> JSONResponse:
        self.work()
        self.saved.set()
        return JSONResponse({"saved": True})

    def bring(self, name: str = Form()) -> RedirectResponse:
        stoppable(yes=True)
        self.work()
        return RedirectResponse("/quick", 303)

    def broken(self) -> None:
        time.sleep(waiting.PATIENCE + 0.1)
        raise ZeroDivisionError


@pytest.fixture(autouse=True)
def as_served(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(waiting, "PATIENCE", 0.3)


@pytest.fixture
def slow() -> Iterator[tuple[Slow, "Asking"]]:
    made = Slow()
    listening = free_socket(0)
    server = uvicorn.Server(uvicorn.Config(made.app, log_level="critical", timeout_graceful_shutdown=1))
    thread = threading.Thread(target=server.run, kwargs={"sockets": [listening]}, daemon=True)
    thread.start()
    yield made, Asking(listening.getsockname()[1])
    made.go.set()
    server.should_exit = True
    thread.join(5)
    listening.close()


class Asking:
    """A browser, or a script that knows how to wait."""

    def __init__(self, port: int) -> None:
        self.port = port

    def begun(self, method: str, path: str, body: bytes | None = None, **headers: str) -> http.client.HTTPConnection:
        connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=30)
        connection.request(method, path, body, {k.replace("_", "-"): v for k, v in headers.items()})
        return connection

    def ask(self, method: str, path: str, body: bytes | None = None, **headers: str) -> tuple[int, str]:
        connection = self.begun(method, path, body, **headers)
        answer = connection.getresponse()
        text = answer.read().decode()
        connection.close()
        return answer.status, text

    def token(self, path: str) -> str:
        status, page = self.ask("GET", path, accept="text/html")
        assert status == 202
        found = re.search(r'data-waiting="([\w-]+)"', page)
        assert found
        return found[1]


def until(true: Callable[[], bool], seconds: float = 5.0) -> float:
    begun = time.monotonic()
    while not true():
        assert time.monotonic() - begun < seconds
        time.sleep(0.01)
    return time.monotonic() - begun


def test_a_page_that_takes_long_says_so_and_comes(slow):
    program, asking = slow
    begun = time.monotonic()
    token = asking.token("/slow")
    assert waiting.PATIENCE <= time.monotonic() - begun < waiting.PATIENCE + 1.5
    connection = asking.begun("GET", f"/waiting/{token}/events")
    events = connection.getresponse()
    line = events.readline().decode()
    assert json.loads(line.removeprefix("data: "))["words"] == "counts sheep"
    assert asking.ask("GET", "/quick", accept="text/html") == (200, "<p>quick</p>")  # others are answered meanwhile
    program.go.set()
    assert 'event: end\ndata: {"page": true, "again": false}' in events.read().decode()
    connection.close()
    assert asking.ask("GET", f"/waiting/{token}/answer") == (200, "<p>worked out</p>")
    assert asking.ask("GET", f"/waiting/{token}/answer")[0] == 404


def test_stopped_by_its_button(slow):
    program, asking = slow
    token = asking.token("/slow")
    assert asking.ask("POST", f"/waiting/{token}/stop")[0] == 200
    assert until(program.stopped.is_set) < 1.0
    status, text = asking.ask("GET", f"/waiting/{token}/answer")
    assert status == 409
    assert "stopped before it was worked out" in text


def end_of(asking: Asking, token: str) -> dict[str, bool]:
    words: dict[str, bool] = json.loads(asking.ask("GET", f"/waiting/{token}/events")[1].rpartition("data: ")[2])
    return words


def test_what_its_reader_stopped_is_not_asked_again_and_what_was_taken_for_left_is(slow, monkeypatch):
    program, asking = slow
    token = asking.token("/slow")
    asking.ask("POST", f"/waiting/{token}/stop")
    until(program.stopped.is_set)
    assert end_of(asking, token) == {"page": True, "again": False}
    program.stopped.clear()
    monkeypatch.setattr(waiting, "UNSEEN", 0.1)
    token = asking.token("/slow")  # a page that slept, and comes back to it
    until(program.stopped.is_set)
    assert end_of(asking, token) == {"page": True, "again": True}


def test_a_file_is_told_from_a_page(slow):
    program, asking = slow
    token = json.loads(asking.ask("GET", "/file", accept="application/json", x_waits="1")[1])["waiting"]
    program.go.set()
    assert end_of(asking, token) == {"page": False, "again": False}


def test_a_page_has_its_time_to_come_from_when_it_was_told(slow, monkeypatch):
    program, asking = slow
    monkeypatch.setattr(waiting, "PATIENCE", 1.2)
    monkeypatch.setattr(waiting, "UNSEEN", 1.0)
    asking.token("/slow")
    time.sleep(0.6)
    assert not program.stopped.is_set()
    assert until(program.stopped.is_set) < 2.0


@pytest.mark.parametrize("path", ["/slow", "/file"])
def test_work_ends_where_its_reader_goes_before_it_is_told(slow, path):
    program, asking = slow
    connection = asking.begun("GET", path, accept="text/html" if path == "/slow" else "application/json")
    time.sleep(0.1)
    connection.close()
    assert until(program.stopped.is_set) < 1.0


def test_work_ends_within_a_second_or_so_of_its_page_being_closed(slow):
    program, asking = slow
    token = asking.token("/slow")
    connection = asking.begun("GET", f"/waiting/{token}/events")
    events = connection.getresponse()
    events.readline()
    time.sleep(0.6)
    assert not program.stopped.is_set()
    connection.close()
    events.close()
    assert until(program.stopped.is_set) < waiting.ALONE + 1.0


def test_what_is_being_saved_is_saved_though_its_page_is_closed(slow):
    program, asking = slow
    connection = asking.begun("POST", "/save", b"{}", content_type="application/json", accept="application/json", x_waits="1")
    time.sleep(0.1)
    connection.close()
    time.sleep(0.3)
    assert not program.stopped.is_set()
    program.go.set()
    until(program.saved.is_set)


def test_a_script_is_given_a_word_and_an_upload_its_next_page(slow):
    program, asking = slow
    status, text = asking.ask("POST", "/save", b"{}", content_type="application/json", accept="application/json", x_waits="1")
    token = json.loads(text)["waiting"]
    assert status == 202
    form = asking.ask("POST", "/import", b"name=x", content_type="application/x-www-form-urlencoded", accept="text/html")
    found = re.search(r'data-waiting="([\w-]+)"', form[1])
    program.go.set()
    assert asking.ask("GET", f"/waiting/{token}/answer") == (200, '{"saved":true}')
    assert asking.ask("GET", f"/waiting/{found[1]}/answer")[0] == 303
    assert asking.ask("GET", "/waiting/nothing/events")[0] == 404


def test_an_upload_that_nobody_waits_for_ends(slow):
    program, asking = slow
    connection = asking.begun("POST", "/import", b"name=x", content_type="application/x-www-form-urlencoded", accept="text/html")
    time.sleep(0.15)
    connection.close()
    assert until(program.stopped.is_set) < 1.0


def test_what_breaks_after_the_word_was_given_is_a_sentence(slow):
    _, asking = slow
    token = asking.token("/broken")
    status, text = asking.ask("GET", f"/waiting/{token}/answer")
    assert status == 500
    assert text


# Work and its checkpoints


def in_a_loop(coroutine):
    """Run it in a loop of its own thread: a browser test before may have left one in this."""
    with ThreadPoolExecutor(1) as pool:
        return pool.submit(asyncio.run, coroutine).result()


@pytest.mark.parametrize("also", [[], [ValueError("a fault")]])
def test_work_that_is_stopped_between_two_rows_is_no_fault_and_a_fault_still_is(also):
    """A stream's work ends in a group of its own task's exceptions."""
    sent: list[dict[str, object]] = []

    async def app(scope, receive, send):
        raise BaseExceptionGroup("a stream", [Stopped(), *also])

    async def receive():
        return {"type": "http.request", "body": b"", "more_body": False}

    async def send(message):
        sent.append(message)

    scope = {"type": "http", "path": "/rows", "method": "GET", "headers": [(b"x-waits", b"1")]}
    if also:
        with pytest.raises(BaseExceptionGroup):
            in_a_loop(Patience(app)(scope, receive, send))
    else:
        in_a_loop(Patience(app)(scope, receive, send))
        assert sent[0]["status"] == 409


def test_a_checkpoint_ends_only_stopped_work_that_may_stop():
    checkpoint()  # no work at all
    with begin(Work()) as work:
        checkpoint()
        work.stop()
        stoppable(yes=False)
        checkpoint()
        stoppable(yes=True)
        with pytest.raises(Stopped):
            checkpoint()
    assert not issubclass(Stopped, Exception)  # nothing that mends errors takes it for an answer
    with begin(Work()):
        stop_everything()
        with pytest.raises(Stopped):
            told("anything", 0.5)


# Reading apart


def numbers(count: int) -> int:
    return len([k + 1.5 for k in range(count)])


def refused() -> None:
    raise InvalidInput("file", "No.")


def sleeps() -> None:
    time.sleep(60)


def test_a_reading_within_its_budget_and_beyond():
    assert apart(numbers, 1000, budget=Budget(100, 20.0)) == 1000
    with pytest.raises(InvalidInput, match="MB of memory"):
        apart(numbers, 30_000_000, budget=Budget(100, 20.0))
    with pytest.raises(InvalidInput, match="longer than 1 s"):
        apart(sleeps, budget=Budget(100, 1.0))
    with pytest.raises(InvalidInput, match=r"^No\.$"):
        apart(refused, budget=Budget(100, 20.0))
    small, large = Budget.for_bytes(40_000), Budget.for_bytes(40_000_000)
    assert small.megabytes < 300
    assert small.seconds < 3
    assert large.megabytes > 1000
    assert large.seconds > 30


def test_a_reading_is_ended_with_its_work():
    with begin(Work()) as work:
        threading.Timer(0.6, work.stop).start()
        begun = time.monotonic()
        with pytest.raises(Stopped):
            apart(sleeps, budget=Budget(100, 30.0))
        assert time.monotonic() - begun < 5
    end_all()
