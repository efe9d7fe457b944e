"""Starting it: a port in use, where data lives, the demo put back as new."""

import contextlib
import http.client
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

import pytest

from tests.conftest import DEMO_BOATS
from yarekeel.core.errors import YareKeelError
from yarekeel.demo.boats import reedwarden
from yarekeel.web.serving import free_socket, open_yard, serve
from yarekeel.web.settings import data_folder


def test_a_port_in_use_gives_way_to_the_next():
    first = free_socket(0)
    port = first.getsockname()[1]
    second = free_socket(port)
    assert port < second.getsockname()[1] <= port + 50
    assert second.getsockname()[0] == "127.0.0.1"
    assert second.proto == socket.IPPROTO_TCP  # or every answer waits 40 ms
    first.close(), second.close()


def test_where_data_lives(monkeypatch, tmp_path):
    monkeypatch.setenv("YAREKEEL_HOME", str(tmp_path / "home"))
    assert data_folder(None) == tmp_path / "home"
    assert data_folder(tmp_path) == tmp_path
    monkeypatch.delenv("YAREKEEL_HOME")
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "xdg"))
    assert data_folder(None).name == "yarekeel"


def test_a_folder_that_cannot_be_used_is_a_sentence(tmp_path):
    (tmp_path / "file").write_text("x")
    with pytest.raises(YareKeelError, match="cannot be used"):
        open_yard(tmp_path / "file")


def test_reset_puts_the_demo_back(tmp_path, capsys):
    serve(None, tmp_path, browser=False, demo=True, reset=True)
    yard = open_yard(tmp_path)
    first = [b.latest.design for b in yard.boats()]
    yard.save(1, yard.boat(1).latest.letter, first[-1], yard.boat(1).latest.snapshot, "an edit")
    yard.delete(2)
    serve(None, tmp_path, browser=False, demo=True, reset=True)
    assert [b.latest.design for b in yard.boats()] == first
    assert "as new" in capsys.readouterr().out
    yard.create(first[0], "mm_g")  # one of the builder's own
    with pytest.raises(YareKeelError, match="boats of your own"):
        serve(None, tmp_path, browser=False, demo=True, reset=True)
    assert len(yard.boats()) == len(first) + 1


def test_a_folder_that_is_not_the_demos_is_never_emptied(tmp_path):
    mine = tmp_path / "mine"
    yard = open_yard(mine)
    yard.create(reedwarden(), "mm_g")
    for _ in range(2):  # nor after a demo was asked to be served there
        with pytest.raises(YareKeelError, match="not emptied"):
            serve(None, mine, browser=False, demo=True, reset=True)
    assert len(open_yard(mine).boats()) == 1


@pytest.mark.whole
def test_it_ends_at_once_whatever_runs(tmp_path: Path):
    """Told to end by Ctrl+C in the middle of a file that takes its time and a sum that does."""
    import threading

    from tests.hostile import cubes
    from tests.web.test_hostile_files import Served

    served = Served(tmp_path)

    def busy(of, *args) -> None:
        with contextlib.suppress(OSError, http.client.HTTPException):
            of(*args)

    work = [
        threading.Thread(target=busy, args=(served.upload, "/boats/2/B/mesh", "a.stl", cubes(1500, 30.0))),
        threading.Thread(target=busy, args=(served.ask, "GET", "/boats/1/A/brief?tab=size")),
        threading.Thread(target=busy, args=(served.ask, "GET", "/boats/5/A/stability?tab=cures")),
    ]
    for thread in work:
        thread.start()
    time.sleep(0.6)
    begun = time.monotonic()
    served.program.send_signal(signal.SIGINT)
    assert served.program.wait(30) == 0
    assert time.monotonic() - begun < 5
    for thread in work:
        thread.join()
    served.program.stdout.close()


def test_the_command_serves_the_demo_and_keeps_what_was_entered(tmp_path: Path):
    command = [sys.executable, "-m", "yarekeel.cli", "demo", "--no-browser", "--data", str(tmp_path), "--port", "0"]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True, env={**os.environ, "PYTHONUNBUFFERED": "1"}) as program:
        try:
            assert program.stdout is not None
            address = program.stdout.readline().split()[-1]
            assert str(tmp_path) in program.stdout.readline()
            page = ""
            for _ in range(50):
                try:
                    page = urllib.request.urlopen(address, timeout=60).read().decode()
                    break
                except OSError:
                    time.sleep(0.1)
            assert "Test tank" in page  # it opens on a boat that is afloat
            assert "Floats with" in page
            yard = open_yard(tmp_path)
            yard.duplicate(2)
        finally:
            program.send_signal(signal.SIGTERM)
            program.wait(60)
    assert len(open_yard(tmp_path).boats()) == DEMO_BOATS + 1
