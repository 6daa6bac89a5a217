"""The TLS front and the plain page: one thread with an event loop of its own, in the server's process.

What comes in over TLS is piped to a port of this machine that nobody else is let in at. The front writes down from
which address each piped connection comes, by the number of its own end; the application asks by that number, and
refuses what it does not find.
"""

from __future__ import annotations

import asyncio
import logging
import socket
import ssl
import threading
from collections.abc import Callable, Iterable
from contextlib import suppress
from html import escape
from typing import Any

from elumbra.lan.authority import Authority

_MOST_CONNECTIONS, _MOST_OF_ONE = 400, 60
_CHUNK = 65_536
_SILENT_SECONDS = 300.0
_HANDSHAKE_SECONDS = 15.0
_PLAIN_SECONDS = 10.0
_PLAIN_REQUEST = 8192
_log = logging.getLogger(__name__)
WsgiApp = Callable[[dict[str, Any], Callable[..., Any]], Iterable[bytes]]


class Front:
    """Listens for the shop's devices and pipes them to the server."""

    def __init__(self, authority: Authority, *, port: int, plain_port: int, host: str = "0.0.0.0") -> None:
        self._authority, self._host = authority, host
        self.port, self.plain_port = port, plain_port
        self.peers: dict[int, str] = {}  # by the port that our end has, where the connection comes from
        self.inner_port = 0
        self._count: dict[str, int] = {}
        self._loop = asyncio.new_event_loop()
        self._thread = threading.Thread(target=self._run, name="tls-front", daemon=True)
        self._ready = threading.Event()
        self._problem: OSError | None = None
        self._stop = asyncio.Event()

    def start(self, inner_port: int) -> None:
        """Listen; the server answers at ``inner_port`` of this machine.

        Raises
        ------
        OSError
            A port is taken.
        """
        self.inner_port = inner_port
        self._thread.start()
        self._ready.wait()
        if self._problem is not None:
            raise self._problem

    def stop(self) -> None:
        """Let go of the ports and of every connection."""
        if self._thread.is_alive():
            self._loop.call_soon_threadsafe(self._stop.set)
            self._thread.join(timeout=5)

    def _run(self) -> None:
        asyncio.set_event_loop(self._loop)
        try:
            self._loop.run_until_complete(self._serve())
        finally:
            self._ready.set()
            self._loop.close()

    async def _serve(self) -> None:
        try:
            context = self._authority.context()
            tls = await asyncio.start_server(
                self._pipe, self._host, self.port, ssl=context, ssl_handshake_timeout=_HANDSHAKE_SECONDS, backlog=200
            )
            plain = await asyncio.start_server(self._plain, self._host, self.plain_port, limit=_PLAIN_REQUEST)
        except OSError as error:
            self._problem = error
            return
        self.port = tls.sockets[0].getsockname()[1]
        self.plain_port = plain.sockets[0].getsockname()[1]
        self._loop.set_exception_handler(_quiet)
        self._ready.set()
        await self._stop.wait()
        tls.close()
        plain.close()
        for task in asyncio.all_tasks():
            if task is not asyncio.current_task():
                task.cancel()

    async def _pipe(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        peer = str((writer.get_extra_info("peername") or ("unknown",))[0])
        if sum(self._count.values()) >= _MOST_CONNECTIONS or self._count.get(peer, 0) >= _MOST_OF_ONE:
            writer.close()
            return
        self._count[peer] = self._count.get(peer, 0) + 1
        ours, to_server = 0, None
        try:
            from_server, to_server = await asyncio.open_connection("127.0.0.1", self.inner_port)
            ours = int(to_server.get_extra_info("sockname")[1])
            self.peers[ours] = peer
            await asyncio.gather(_copy(reader, to_server), _copy(from_server, writer))
        except (OSError, asyncio.CancelledError, asyncio.IncompleteReadError, ssl.SSLError):
            pass
        finally:
            self.peers.pop(ours, None)
            self._count[peer] -= 1
            if not self._count[peer]:
                del self._count[peer]
            for end in (writer, to_server):
                if end is not None:
                    with suppress(Exception):
                        end.close()

    async def _plain(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        """The plain page: how a device comes to trust this server; it takes nothing in."""
        try:
            request = await asyncio.wait_for(reader.readuntil(b"\r\n\r\n"), _PLAIN_SECONDS)
            method, path = [*request.split(b"\r\n", 1)[0].decode("ascii", "replace").split(" "), "", ""][:2]
            writer.write(self._plain_answer(method, path.partition("?")[0]))
            await asyncio.wait_for(writer.drain(), _PLAIN_SECONDS)
        except (OSError, ValueError, TimeoutError, asyncio.IncompleteReadError, asyncio.LimitOverrunError):
            pass
        finally:
            with suppress(Exception):
                writer.close()

    def _plain_answer(self, method: str, path: str) -> bytes:
        if method not in ("GET", "HEAD"):
            return _answer("405 Method Not Allowed", "text/plain", b"This page only shows.")
        if path == "/ca.pem":
            content = self._authority.ca.read_bytes()
            return _answer("200 OK", "application/x-x509-ca-cert", content, name="elumbra-shop.pem")
        if path != "/":
            return _answer("404 Not Found", "text/plain", b"There is nothing here but the shop's authority, at /.")
        first = f"https://{self._authority.names[0]}:{self.port}" if self._authority.names else ""
        pairs = self._authority.fingerprint.split(":")
        printed = "<br>".join(" ".join(pairs[i : i + 8]) for i in range(0, len(pairs), 8))
        return _answer(
            "200 OK", "text/html; charset=utf-8", _PAGE.format(address=escape(first), printed=printed).encode()
        )


_PAGE = """<!doctype html><html lang="en"><meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1"><title>This shop's authority</title>
<style>body{{font:18px/1.5 sans-serif;max-width:34em;margin:2em auto;padding:0 1em;background:#f4efe6;color:#221d2b}}
code{{font:16px/1.6 monospace;display:block;background:#fff;padding:.8em;border:1px solid #8a8178}}
a.go{{display:inline-block;padding:1em 1.4em;background:#3f3650;color:#fff;text-decoration:none}}</style>
<h1>Trust this shop's server</h1>
<ol><li><a class="go" href="/ca.pem">Fetch the shop's authority</a></li>
<li>Install it as a certificate authority on this device.</li>
<li>Compare its SHA-256 fingerprint with the one that the bench machine shows under People:
<code>{printed}</code></li>
<li>Then open <b>{address}</b>.</li></ol>
<p>It vouches for this machine and for private addresses only. Install it on the shop's own devices.</p></html>"""


def _answer(status: str, kind: str, content: bytes, *, name: str = "") -> bytes:
    head = [
        f"HTTP/1.1 {status}", f"Content-Type: {kind}", f"Content-Length: {len(content)}", "Connection: close",
        "Cache-Control: no-store", "X-Content-Type-Options: nosniff",
        "Content-Security-Policy: default-src 'none'; style-src 'unsafe-inline'",
    ]  # fmt: skip
    if name:
        head.append(f'Content-Disposition: attachment; filename="{name}"')
    return "\r\n".join([*head, "", ""]).encode() + content


async def _copy(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
    """Bytes from one end to the other until it ends; silence ends it too."""
    try:
        while chunk := await asyncio.wait_for(reader.read(_CHUNK), _SILENT_SECONDS):
            writer.write(chunk)
            await writer.drain()
    except TimeoutError:
        pass
    finally:
        with suppress(Exception):
            if writer.can_write_eof():
                writer.write_eof()
            else:
                writer.close()


def _quiet(_: asyncio.AbstractEventLoop, context: dict[str, Any]) -> None:
    """A device that hangs up in the middle of a handshake is no news."""
    error = context.get("exception")
    if not isinstance(error, (OSError, ssl.SSLError, asyncio.CancelledError)):
        _log.error("tls front: %s", context.get("message"), exc_info=error)


def behind_front(app: WsgiApp, front: Front) -> WsgiApp:
    """The application behind the front: it learns who asks, and lets nobody else in by the front's door."""

    def answer(environ: dict[str, Any], start: Callable[..., Any]) -> Iterable[bytes]:
        if environ.get("SERVER_PORT") != str(front.inner_port):
            return app(environ, start)
        try:
            peer = front.peers.get(int(environ.get("REMOTE_PORT") or 0))
        except ValueError:
            peer = None
        if peer is None:
            start("403 Forbidden", [("Content-Type", "text/plain"), ("Content-Length", "0")])
            return [b""]
        environ["elumbra.peer"] = peer
        environ["wsgi.url_scheme"] = "https"
        return app(environ, start)

    return answer


def free_inner_port() -> int:
    """A port of this machine for the server behind the front."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])
