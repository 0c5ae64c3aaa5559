"""Numbers that may mean more than one: what they may mean, and what to write instead.

- `unclear`: of one typed text.
- `THOUSAND`: three figures after a mark that may be either.
- `SHARE`: less than one, where per cent are asked for.
"""

from __future__ import annotations

import re

THOUSAND = re.compile(r"\s*([-+]?[1-9]\d{0,2})(?:,(\d{3})|\.(\d{3}) \?)\s*")
SHARE = re.compile(r"\s*([-+]?0?[.,]\d+) \?\s*")
FRACTION = re.compile(r"\s*(\d+)\s*/\s*([1-9]\d*)\s*")


def unclear(given: object) -> str:
    """What a typed number may mean, where it is not certain; empty where it is no such text.

    Args:
        given: as it was sent.
    """
    if not isinstance(given, str):
        return ""
    if found := THOUSAND.fullmatch(given):
        whole, part = found[1], found[2] or found[3]
        short = f"{whole}.{part.rstrip('0') or '0'}"
        if found[3]:  # where decimals have commas: this sentence gets them too, and what was typed must not
            return f"A point before three figures may set thousands apart; write {whole}{part}, or {short}"
        return f"{given.strip()} may mean {whole}{part} or {whole}.{part}; write {whole}{part}, or {short}"
    if found := SHARE.fullmatch(given):  # sent so by a field in per cent alone
        part = float(found[1].replace(",", "."))
        return f"{part:.10g} may be a part of one or per cent; write {100 * part:.10g} %, or {part:.10g} %"
    if found := FRACTION.fullmatch(given):
        return f"{given.strip()} is a fraction; write {int(found[1]) / int(found[2]):.4g}"
    return ""
