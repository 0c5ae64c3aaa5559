"""Passwords as Argon2id hashes (RFC 9106), and what a new one must be.

- `hashed`, `fits`: made, and held against one.
- `check_new`: whether a name and a password will do.
"""

from __future__ import annotations

import secrets
import threading
from functools import cache

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError

LEAST_PASSWORD = 10
_turns = threading.Semaphore(2)  # each takes 64 MiB while it works


class CannotJoin(ValueError):
    """A person or a code cannot be taken; the message says why."""


@cache
def _hasher() -> PasswordHasher:
    return PasswordHasher()


@cache
def _nobodys() -> str:
    """A hash to check against where there is no such name, so that the time taken tells nothing."""
    return _hasher().hash(secrets.token_urlsafe(16))


def hashed(password: str) -> str:
    """The hash of a password."""
    with _turns:
        return _hasher().hash(password)


def fits(kept: str, password: str) -> bool:
    """Whether a password is that of a hash; an empty hash is nobody's, and takes as long.

    Args:
        kept: the hash.
        password: as typed.
    """
    with _turns:
        try:
            return _hasher().verify(kept or _nobodys(), password) and kept != ""
        except (VerificationError, InvalidHashError):
            return False


def check_new(name: str, password: str) -> None:
    """Hold a new name and password against what they must be.

    Raises:
        CannotJoin: they do not do.
    """
    if not name:
        raise CannotJoin("say what you are called here")
    if len(password) < LEAST_PASSWORD:
        raise CannotJoin(f"a password needs {LEAST_PASSWORD} characters or more; a few words in a row are good")
