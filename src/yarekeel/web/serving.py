"""Starting the server: a free port, an honest line on the screen, a browser if there is one."""

import contextlib
import errno
import os
import re
import socket
import sys
import threading
import webbrowser
from dataclasses import dataclass
from pathlib import Path
from types import FrameType
from typing import TYPE_CHECKING

import uvicorn

from yarekeel import apart
from yarekeel.core.errors import YareKeelError
from yarekeel.core.stopping import stop_everything
from yarekeel.instruments.shelf import Shelf
from yarekeel.store.engine import open_database
from yarekeel.store.yard import Yard
from yarekeel.web.app import create_app
from yarekeel.web.settings import DATABASE, DEMO, Settings, data_folder, is_demo_folder, mark_demo_folder

if TYPE_CHECKING:
    from yarekeel.web.pond.phones import Sharing

ADDRESS = "127.0.0.1"
FIRST_PORT = 8421
FIRST_SHARED = 8521
PORTS_TRIED = 50


def free_socket(first: int, address: str = ADDRESS) -> socket.socket:
    """A listening socket at ``first`` or the next free port. Raises YareKeelError when fifty in a row are taken."""
    for port in range(first, min(first + PORTS_TRIED, 65536)):
        # The protocol is named because asyncio sends small answers at once (TCP_NODELAY) only on sockets that name it;
        # without it every answer waits 40 ms for the browser's acknowledgement.
        candidate = socket.socket(socket.AF_INET, socket.SOCK_STREAM, socket.IPPROTO_TCP)
        candidate.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            candidate.bind((address, port))
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


@dataclass(frozen=True, slots=True)
class Share:
    """How pond sheets are shared with the local network: at which of this machine's addresses (found where none is named), and with
    which certificate and key, for HTTPS."""

    address: str | None = None
    cert: Path | None = None
    key: Path | None = None


def local_address() -> str:
    """This machine's address in its local network. Raises YareKeelError where it has none."""
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe, contextlib.suppress(OSError):
        probe.connect(("192.0.2.1", 9))  # sends nothing: it only asks which way it would go (RFC 5737's address is nobody's)
        found = str(probe.getsockname()[0])
        if not found.startswith(("127.", "0.")):
            return found
    raise YareKeelError("This machine is in no local network, so there is nobody to share with; --share-at names an address.")


def shared(yard: Yard, share: Share, shelf: Shelf) -> tuple["Server", socket.socket, "Sharing"]:
    """A server of pond sheets alone on the local network, not yet running. Raises YareKeelError for an address or a certificate that
    cannot be used."""
    from yarekeel.web.pond.phones import Sharing  # for who shares only
    from yarekeel.web.pond.sharing import create_pond_app

    if (share.cert is None) != (share.key is None):
        raise YareKeelError("HTTPS needs both --cert and --key.")
    for file in (share.cert, share.key):
        if file is not None and not file.is_file():
            raise YareKeelError(f"{file} is not there.")
    address = share.address or local_address()
    try:
        listening = free_socket(FIRST_SHARED, address)
    except OSError:
        raise YareKeelError(f"{address} is not an address of this machine.") from None
    secure = share.cert is not None
    app = create_pond_app(yard, frozenset({address}), secure)
    config = uvicorn.Config(
        app,
        log_level="warning",
        server_header=False,
        proxy_headers=False,
        timeout_graceful_shutdown=1,
        ssl_certfile=share.cert,
        ssl_keyfile=share.key,
    )
    try:
        config.load()
    except (OSError, ValueError) as error:
        listening.close()
        raise YareKeelError(f"The certificate and its key cannot be used: {error}") from None
    return Server(config, shelf), listening, Sharing(f"{'https' if secure else 'http'}://{address}:{listening.getsockname()[1]}", secure)


@dataclass(frozen=True, slots=True)
class Proxied:
    """The address at which a reverse proxy serves the program, and where the program listens for it."""

    at: str
    listen: str = ADDRESS

    def __post_init__(self) -> None:
        if not re.fullmatch(r"https?://[\w.-]+(:\d{1,5})?", self.at):
            raise YareKeelError("--behind is the address that people open, such as https://boats.example.org, without a path.")


def serve(
    port: int | None,
    data: Path | None,
    browser: bool,
    demo: bool,
    reset: bool = False,
    share: Share | None = None,
    proxied: Proxied | None = None,
) -> None:
    """Serve until interrupted. ``demo`` fills an empty yard with the demo boats and marks its folder; ``reset`` empties a folder so
    marked first; ``share`` opens pond sheets to phones. Raises YareKeelError for a reset of any other."""
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
    listening = free_socket(FIRST_PORT if port is None else port, proxied.listen if proxied else ADDRESS)
    address = f"{proxied.at}/" if proxied else f"http://{ADDRESS}:{listening.getsockname()[1]}/"
    if demo and (boats := [b for b in yard.boats() if b.revisions]):
        tried = next((b for b in boats if any(r.trials for r in b.revisions)), boats[0])
        address += f"boats/{tried.id}/{tried.latest.letter}/float"  # the demo opens on a boat with a story
    print(f"Yare Keel is at {address}\nData in {folder}. Ctrl+C ends it.", flush=True)
    if browser:
        threading.Thread(target=_open, args=(address,), daemon=True).start()
    shelf = Shelf()
    app = create_app(Settings(folder / DATABASE, behind=proxied.at if proxied else ""), yard, shelf)
    if share is not None:
        server, at, app.state.sharing = shared(yard, share, shelf)
        threading.Thread(target=server.run, kwargs={"sockets": [at]}, daemon=True).start()
        print(
            f"Pond sheets are reached from the local network at {app.state.sharing.address}, each by a one-time link that its page makes."
            + ("" if app.state.sharing.secure else " Not encrypted: the local network sees what is sent."),
            flush=True,
        )
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
