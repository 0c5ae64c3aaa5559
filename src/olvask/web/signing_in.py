"""Who asks: sessions by cookie, what an owner alone may do, how often a sign-in may be tried, and who did what.

Without sign-in (on loopback) everybody may do everything and nothing is noted.

- `install`: refuses what needs a session or an owner, and notes what was done.
- `owner_only`: marks an endpoint.
- `begin`, `end`: a session's cookie.
- `person`, `person_name`: who asks.
"""

from __future__ import annotations

import logging
import threading
import time
from collections import deque
from collections.abc import Callable
from typing import Any, TypeVar

from flask import Flask, Response, current_app, g, request

from olvask.store.faults import StorageFault
from olvask.store.people import Person
from olvask.web.reach import stores

PLAIN, SECURE = "olvask_session", "__Host-olvask_session"
LASTS_S = 14 * 86400
# Open to whoever reaches the server: the page and its files, whether it is there, and the way in.
OPEN = frozenset({"api.health", "api.me", "api.sign_in", "api.join", "api.look_at_code"})
TRIES, WITHIN_S = 30, 300.0  # of signing in, from one address; our own estimate
# Addresses under which a request that is no question changes something that is kept.
KEPT = (
    "/api/jobs",
    "/api/shelf",
    "/api/house",
    "/api/people",
    "/api/devices",
    "/api/log-kinds",
    "/api/instruments",
    "/api/customers",
    "/api/practice",
)
UNNOTED = (
    "/api/house/differs",
    "/api/house/picture",
    "/api/log-kinds/look",
    "/api/practice/case",
    "/api/practice/drill",
)
Endpoint = TypeVar("Endpoint", bound=Callable[..., Any])
_owners_alone: set[str] = set()


class NotSignedIn(RuntimeError):
    """The request needs somebody who is signed in."""


class OwnersAlone(RuntimeError):
    """The request needs an owner."""


class TooOften(RuntimeError):
    """Too many tries from one address; `wait_s` says how long to wait."""

    def __init__(self, wait_s: float) -> None:
        super().__init__("too many tries")
        self.wait_s = wait_s


def owner_only(function: Endpoint) -> Endpoint:
    """Mark an endpoint that an owner alone may use."""
    _owners_alone.add(f"api.{function.__name__}")
    return function


class Tries:
    """How often each address has tried to sign in of late."""

    def __init__(self, clock: Callable[[], float] = time.monotonic) -> None:
        """Take the time from `clock` [s]."""
        self._clock = clock
        self._lock = threading.Lock()
        self._tried: dict[str, deque[float]] = {}

    def count(self, address: str) -> None:
        """Count a try.

        Raises:
            TooOften: there were too many.
        """
        now = self._clock()
        with self._lock:
            if len(self._tried) > 10_000:
                self._tried = {key: times for key, times in self._tried.items() if now - times[-1] < WITHIN_S}
            tried = self._tried.setdefault(address, deque(maxlen=TRIES))
            if len(tried) == TRIES and now - tried[0] < WITHIN_S:
                raise TooOften(WITHIN_S - (now - tried[0]))
            tried.append(now)


def install(app: Flask, required: bool) -> None:
    """Ask who it is where that is required.

    Args:
        app: the application.
        required: whether a session is needed.
    """
    app.extensions["olvask.sign_in"] = required
    app.extensions["olvask.tries"] = Tries()

    @app.before_request
    def _who() -> None:
        g.person = g.session_number = None
        if not required:
            return
        token = request.cookies.get(SECURE if request.is_secure else PLAIN, "")
        found = stores().people.who(token) if token else None
        if found is not None:
            g.person, g.session_number = found
        asks_api = request.path.startswith("/api/")
        if not asks_api or (request.endpoint in OPEN):
            return
        if g.person is None:
            raise NotSignedIn
        if request.endpoint in _owners_alone and g.person.role != "owner":
            raise OwnersAlone

    @app.after_request
    def _noted(response: Response) -> Response:
        who = person()
        if who is None or request.method in ("GET", "HEAD", "OPTIONS") or response.status_code >= 400:
            return response
        if request.path.startswith(KEPT) and not request.path.startswith(UNNOTED):
            job = (request.view_args or {}).get("job_id")
            try:
                stores().people.note(who.name, _words(), job if isinstance(job, int) else None)
            except StorageFault as fault:  # what was asked is done, and its answer stands
                logging.getLogger("olvask").error("not noted: %s did %s (%s)", who.name, _words(), fault)
        return response


def _words() -> str:
    """What an endpoint does, by its own first sentence."""
    view = current_app.view_functions.get(request.endpoint or "")
    words = (getattr(view, "__doc__", None) or request.endpoint or "").strip().splitlines()[0]
    given = "/".join(str(value) for name, value in (request.view_args or {}).items() if name != "job_id")
    return f"{words} {given}".strip()


def required() -> bool:
    """Whether this server asks who it is."""
    return bool(current_app.extensions.get("olvask.sign_in"))


def person() -> Person | None:
    """Who asks; `None` where nobody is asked."""
    found = getattr(g, "person", None)
    return found if isinstance(found, Person) else None


def person_name() -> str:
    """The name of who asks; empty where nobody is asked."""
    who = person()
    return who.name if who is not None else ""


def count_try() -> None:
    """Count a try to sign in from this address.

    Raises:
        TooOften: there were too many.
    """
    tries = current_app.extensions["olvask.tries"]
    if isinstance(tries, Tries):
        tries.count(request.remote_addr or "")


def begin(response: Response, token: str) -> Response:
    """Give a session's cookie along.

    Args:
        response: the answer.
        token: secret of the session.
    """
    response.set_cookie(
        SECURE if request.is_secure else PLAIN,
        token,
        max_age=LASTS_S,
        path="/",
        secure=request.is_secure,
        httponly=True,
        samesite="Strict",
    )
    response.headers["Cache-Control"] = "no-store"
    return response


def end(response: Response) -> Response:
    """Take a session's cookie away."""
    for name in (PLAIN, SECURE):
        response.delete_cookie(name, path="/", secure=name == SECURE, httponly=True, samesite="Strict")
    return response
