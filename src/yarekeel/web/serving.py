"""Starting the server: a free port, an honest line on the screen, a browser if there is one."""

import contextlib
import errno
import os
import socket
import sys
import threading
import webbrowser
from pathlib import Path
from types import FrameType

import uvicorn

from yarekeel import apart
from yarekeel.core.errors import YareKeelError
from yarekeel.core.stopping import stop_everything
from yarekeel.instruments.shelf import Shelf
from yarekeel.store.engine import open_database
from yarekeel.store.yard import Yard
from yarekeel.web.app import create_app
from yarekeel.web.settings import DATABASE, DEMO, Settings, data_folder, is_demo_folder, mark_demo_folder

ADDRESS = "127.0.0.1"
FIRST_PORT = 8421
PORTS_TRIED = 50


def free_socket(first: int) -> socket.socket:
    """A listening socket at ``first`` or the next free port. Raises YareKeelError when fifty in a row are taken."""
    for port in range(first, min(first + PORTS_TRIED, 65536)):
        # The protocol is named because asyncio sends small answers at once (TCP_NODELAY) only on sockets that name it;
        # without it every answer waits 40 ms for the browser's acknowledgement.
        candidate = socket.socket(socket.AF_INET, socket.SOCK_STREAM, socket.IPPROTO_TCP)
        candidate.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            candidate.bind((ADDRESS, port))
            candidate.listen(128)
            return candidate
        except OSError as error:
            candidate.close()
            if error.errno not in (errno.EADDRINUSE, errno.EACCES):
                raise
    raise YareKeelError(f"Ports {first} to {first + PORTS_TRIED - 1} are all in use; name another with --port.")


def open_yard(folder: Path) -> Yard:
    """The yard in a data folder. Raises StoreFault, which says the way out, when it cannot be used."""
    return Yard(open_database(folder / DATABASE))


def serve(port: int | None, data: Path | None, browser: bool, demo: bool, reset: bool = False) -> None:
    """Serve until interrupted. ``demo`` fills an empty yard with the demo boats and marks its folder; ``reset`` empties a folder so
    marked first. Raises YareKeelError for a reset of any other."""
    own = demo and data is None
    folder = data_folder(data) / DEMO if own else data_folder(data)
    yard = open_yard(folder)
    if demo and (own or yard.is_empty()):
        mark_demo_folder(folder)
    if reset:
        if not is_demo_folder(folder):
            raise YareKeelError(
                f"{folder} holds boats that are not the demo's, so it is not emptied. Name a folder that `demo` made, or a new one."
            )
        if own_boats := yard.own_names():
            raise YareKeelError(
                f"{folder} holds boats of your own ({', '.join(own_boats[:5])}), so it is not emptied. "
                "Save them as files and delete them first."
            )
        yard.clear()
    if demo and yard.is_empty():
        from yarekeel.demo.story import load_demo  # only where the story is told

        load_demo(yard)
    if reset:
        print(f"The demo is as new in {folder}.")
        return
    threading.Thread(target=_tidied, args=(yard,), daemon=True).start()
    listening = free_socket(FIRST_PORT if port is None else port)
    address = f"http://{ADDRESS}:{listening.getsockname()[1]}/"
    if demo and (boats := [b for b in yard.boats() if b.revisions]):
        tried = next((b for b in boats if any(r.trials for r in b.revisions)), boats[0])
        address += f"boats/{tried.id}/{tried.latest.letter}/float"  # the demo opens on a boat with a story
    print(f"Yare Keel is at {address}\nData in {folder}. Ctrl+C ends it.", flush=True)
    if browser:
        threading.Thread(target=_open, args=(address,), daemon=True).start()
    shelf = Shelf()
    app = create_app(Settings(folder / DATABASE), yard, shelf)
    config = uvicorn.Config(app, log_level="warning", server_header=False, timeout_graceful_shutdown=1)
    with contextlib.suppress(KeyboardInterrupt):
        Server(config, shelf).run(sockets=[listening])
    apart.end_all()
    yard.close()


def _tidied(yard: Yard) -> None:
    """Let go of old things; where that cannot be done now it is tried at the next start."""
    with contextlib.suppress(YareKeelError):
        yard.tidy()


class Server(uvicorn.Server):
    """A server that first ends what its pages listen to, so that it need not break it off."""

    def __init__(self, config: uvicorn.Config, shelf: Shelf) -> None:
        super().__init__(config)
        self.shelf = shelf

    def handle_exit(self, sig: int, frame: FrameType | None) -> None:
        self.shelf.close()
        stop_everything()
        super().handle_exit(sig, frame)

    def stop(self) -> None:
        """End it from another thread."""
        self.shelf.close()
        self.should_exit = True


def _open(address: str) -> None:
    if sys.platform == "linux" and not (os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY")):
        return  # nothing to draw on; a browser in the terminal would only be in the way
    with contextlib.suppress(webbrowser.Error, OSError):
        webbrowser.open(address)
