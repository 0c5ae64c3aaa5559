"""Who is answered, and what a page may load: told from a request's headers alone.

- `refusal`: why a request is not answered.
- `headers`: the security headers of an answer.
"""

from __future__ import annotations

import secrets
from urllib.parse import urlsplit

LOOPBACK = frozenset({"127.0.0.1", "localhost", "[::1]"})
OTHER_SITE = "Requests from other sites are refused."


def host_only(value: str) -> str:
    """A Host header without its port."""
    return value if value.endswith("]") else value.rsplit(":", 1)[0]


def refusal(
    host: str, origin: str | None, fetch_site: str | None, fetch_mode: str | None, allowed: frozenset[str]
) -> str | None:
    """Why a request is not answered; `None` where it is.

    Args:
        host: its Host header.
        origin: its Origin header.
        fetch_site: its Sec-Fetch-Site header.
        fetch_mode: its Sec-Fetch-Mode header.
        allowed: host names served.
    """
    if host_only(host) not in allowed:
        return "This host name is not served."
    if origin is not None and urlsplit(origin).netloc != host:
        return OTHER_SITE
    if fetch_site == "cross-site" and fetch_mode != "navigate":
        return OTHER_SITE
    return None


def new_nonce() -> str:
    """What one page marks its own styles with."""
    return secrets.token_urlsafe(16)


def headers(nonce: str) -> dict[str, str]:
    """The security headers of an answer.

    Args:
        nonce: what the page marks its styles with.
    """
    return {
        "Content-Security-Policy": (
            f"default-src 'none'; script-src 'self'; style-src 'self' 'nonce-{nonce}'; img-src 'self' data:; "
            "font-src 'self'; connect-src 'self'; manifest-src 'self'; worker-src 'self'; base-uri 'none'; "
            "form-action 'none'; frame-ancestors 'none'"
        ),
        "X-Content-Type-Options": "nosniff",
        "Referrer-Policy": "no-referrer",
        "Cross-Origin-Resource-Policy": "same-origin",
    }
