"""Who may knock: a page of another site must not drive a server that listens on this machine."""

from __future__ import annotations

import threading
import time
from urllib.parse import urlsplit

from flask import Flask, Response, request

from elumbra.api.base.refusals import ErrorBody
from elumbra.api.web.errors import error_response
from elumbra.api.web.sittings import at_the_machine, peer

_POLICY = (
    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; frame-ancestors 'none'; "
    "base-uri 'self'; form-action 'self'; object-src 'none'; worker-src 'self'"
)
_LOOPBACK = frozenset({"localhost", "127.0.0.1", "::1"})
_READS = frozenset({"GET", "HEAD", "OPTIONS"})
_MOST_ADDRESSES, _FORGET_SECONDS = 2000, 60.0


def register(app: Flask, hosts: frozenset[str] = frozenset(), *, rate: Rate | None = None) -> None:
    """Check Host, Origin and where a write comes from, and send the browser's cautions with every answer.

    Parameters
    ----------
    app
        The application.
    hosts
        Names besides this machine's own by which the server may be called.
    rate
        How much one address may ask for; None: as much as it likes.
    """
    allowed = _LOOPBACK | hosts

    @app.before_request
    def _at_the_door() -> Response | None:
        origin = request.headers.get("Origin")
        if rate is not None and not at_the_machine() and not rate.lets(peer(), time.monotonic()):
            words = "This device asks for too much at once. It may go on in a few seconds."
            return error_response(ErrorBody(code="too_many", message=words))
        if not _named(f"//{request.host}", allowed):
            words = "This server answers only under its own name. Open the address that it printed when it started."
        elif origin is not None and (not _named(origin, allowed) or not _same_port(origin)):
            words = "This came from a page of another site, so it was not done."
        elif request.method not in _READS and request.path.startswith("/api/") and _from_elsewhere():
            words = "This write did not come from a page of this server, so it was not done."
        else:
            return None
        return error_response(ErrorBody(code="foreign_page", message=words))

    @app.after_request
    def _cautions(response: Response) -> Response:
        response.headers["Content-Security-Policy"] = _POLICY
        response.headers["X-Content-Type-Options"] = "nosniff"
        response.headers["Referrer-Policy"] = "same-origin"
        response.headers["Cross-Origin-Resource-Policy"] = "same-origin"
        response.headers["Cross-Origin-Opener-Policy"] = "same-origin"
        response.headers["Permissions-Policy"] = "camera=(self), geolocation=(), microphone=(), payment=()"
        if request.is_secure:
            response.headers["Strict-Transport-Security"] = "max-age=31536000"
        return response


def _from_elsewhere() -> bool:
    """Whether a write lacks what only our own pages send: a header that no form can set, and a same-origin fetch."""
    if request.headers.get("Sec-Fetch-Site", "same-origin") not in ("same-origin", "none"):
        return True
    return not request.headers.get("X-Write-Id")


class Rate:
    """How much one address may ask for: so many at once, and so many a second after that."""

    def __init__(self, *, burst: float = 400.0, per_second: float = 60.0) -> None:
        self._burst, self._per_second = burst, per_second
        self._left: dict[str, tuple[float, float]] = {}
        self._lock = threading.Lock()

    def lets(self, address: str, at: float) -> bool:
        """Whether one more is let through now; ``at`` in seconds.

        Examples
        --------
        >>> rate = Rate(burst=2, per_second=1)
        >>> [rate.lets("a", 0.0), rate.lets("a", 0.0), rate.lets("a", 0.0), rate.lets("b", 0.0), rate.lets("a", 1.0)]
        [True, True, False, True, True]
        """
        with self._lock:
            if len(self._left) > _MOST_ADDRESSES:
                self._left = {name: one for name, one in self._left.items() if at - one[1] < _FORGET_SECONDS}
            left, before = self._left.get(address, (self._burst, at))
            left = min(self._burst, left + (at - before) * self._per_second)
            self._left[address] = (left - 1 if left >= 1 else left, at)
            return left >= 1


def _named(address: str, allowed: frozenset[str]) -> bool:
    try:
        return urlsplit(address).hostname in allowed
    except ValueError:
        return False


def _same_port(origin: str) -> bool:
    try:
        return urlsplit(origin).port == urlsplit(f"//{request.host}").port
    except ValueError:
        return False
