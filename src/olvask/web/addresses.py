"""Addresses as the routing takes them apart; nearly none is ever put together.

- `Address`: a rule of the routing.
"""

from __future__ import annotations

from collections.abc import Callable

from werkzeug.routing import Rule


class Address(Rule):
    """A rule whose builder of addresses is made when one is asked for.

    Making those of all rules takes four fifths of the time in which the application is made.
    """

    def _compile_builder(self, append_unknown: bool = True) -> Callable[..., tuple[str, str]]:
        def build(rule: Rule, /, **values: object) -> tuple[str, str]:
            made: Callable[..., tuple[str, str]] = Rule._compile_builder(rule, append_unknown)
            return made(rule, **values)

        return build
