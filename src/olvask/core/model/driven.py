"""Sentences about an engine and its alternator, for a vehicle that has a DC converter in their place.

A hybrid or an electric vehicle is ready or off, stands or drives; its 12 V side hangs on a DC converter.

- `driven`: a sentence in such words.
"""

from __future__ import annotations

import re
from functools import lru_cache

# In this order, each on what the ones before have left; "engine bay" is a place and stays one.
PHRASES: tuple[tuple[str, str], ...] = (
    (r"engine at (?:hot|raised) idle", "vehicle ready and standing"),
    (r"engine at idle", "vehicle ready and standing"),
    (r"the engine running or not", "the vehicle ready or not"),
    (r"engine running", "vehicle ready"),
    (r"engine-off", "parked"),
    (r"engine off and cold", "off and not ready"),
    (r"engine off", "vehicle off"),
    (r"energy from the engine", "energy from the vehicle"),
    (r"battery from the engine", "battery from the vehicle"),
    (r"with an engine-managed alternator", "with managed volts"),
    (r"D\+ or engine-run", "a signal that it is ready"),
    (r"the engine is off", "the vehicle is off"),
    (r"engine stopped", "vehicle switched off"),
    (r"engine started", "vehicle made ready"),
    (r"the engine is started", "the vehicle is made ready"),
    (r"start the engine", "make the vehicle ready"),
    (r"an automatic engine stop and start", "a short stop, off and ready again"),
    (r"engine-run detection by voltage", "detection by voltage"),
    (r"every engine stop", "every time it is switched off"),
    (r"every stop of the engine", "every time it is switched off"),
    (r"from engine start to", "from ready to"),
    (r"from engine stop to", "from switching off to"),
    (r"the engine stops", "the vehicle is switched off"),
    (r"the engine (?:runs|ran|turns)", "the vehicle is ready"),
    (r"(?:the running|a running) engine", "a vehicle that is ready"),
    (r"a (?:stopped|standing) engine", "a vehicle that is off"),
    (r"waits for the engine", "waits until the vehicle is ready"),
    (r"with the engine\b(?! bay)", "with the vehicle"),
    (r"\bthe engine\b(?! bay)", "the DC converter"),
    (r"an alternator\b", "a DC converter"),
    (r"alternators?\b", "DC converter"),
    (r"for cranking|to crank", "to get ready"),
    (r"cranking charge", "charge to get ready"),
    (r"every crank\b", "every time it is made ready"),
    (r"one crank\b", "being made ready once"),
    (r"what hot idle (?:leaves|spares)", "what is left standing ready"),
    (r"where hot idle leaves", "where there are, standing ready,"),
    (r"hot idle governs", "standing ready governs"),
    (r"(?:at|in) (?:hot idle|ready)\b", "standing ready"),
    (r"hot idle", "standing ready"),
    (r"fine on the road, not at idle", "fine on the road, not standing"),
    (r"at (?:raised )?idle\b", "standing ready"),
    (r"what cruise leaves", "what is left driving"),
    (r"left at cruise", "left on the road"),
    (r"(?:at|in) (?:cruise|driving)\b", "driving"),
    (r"\bcruise\b", "driving"),
    (r"loads, idle", "loads, ready"),
)
RULES = tuple((re.compile(rf"(?<![\w-]){pattern}", re.IGNORECASE), words) for pattern, words in PHRASES)
# A sentence without any of these has nothing to put in other words; most have not.
MAYBE = re.compile("engine|alternator|idle|cruise|crank|(?:at|in) (?:ready|driving)", re.IGNORECASE)


@lru_cache(maxsize=4096)
def driven(text: str) -> str:
    """A sentence in words of a vehicle that is ready or off.

    Args:
        text: as it is said of an engine.
    """
    if MAYBE.search(text) is None:
        return text
    for pattern, words in RULES:
        text = pattern.sub(lambda found, words=words: _like(found, words), text)  # type: ignore[misc]  # bound at once
    return text


def _like(found: re.Match[str], words: str) -> str:
    """Words that begin as what they stand for does; a name that is always written large begins no sentence by that."""
    large = found[0][0].isupper()
    if found[0].startswith("D+"):
        large = found.string[: found.start()].rstrip()[-1:] in ("", ".", ":")
    return words[0].upper() + words[1:] if large else words
