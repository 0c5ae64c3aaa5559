"""Sentences of answers stand under names that the page turns into the house's numbers and units."""

from __future__ import annotations

import json
import random
import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from flask.testing import FlaskClient

from tests.core.analyses.test_recommended import survey
from tests.designs import activation, cable, fuse, plain, vehicle

LOCALE = Path(__file__).parents[2] / "frontend/src/ui/locale.ts"
FIGURE = re.compile(r"(?<![\w.,])[-−]?\d+(?:[.,]\d+)?\s?(?:°C|K|m|mm|cm²|N·m|kg)(?![\w²³·/])|€")
# What no sentence has: a noun at odds with its number, a gap where a name should be, signs set twice, a value of the program.
ODD = re.compile(
    r"(?<![\w.,·-])1 (?:days|hours|weeks|months|minutes|units|devices|lines|times|cables|conductors|batteries|nights|steps|"
    r"tests|readings|rows|stops|starts|trips|pieces|lugs|labels)\b"
    r"|(?<![\w.,·/-])(?:[2-9]|[1-9]\d+) (?:day|hour|week|month|minute|unit|line|conductor|step|test|reading|row|lug|label)\b"
    r"|\S  +\S|\s[,;.:?](?:\s|$)|\.\.(?!\.)|,,|\(\s|\s\)|\(\)|^\s|\s$|\bnan\b|\binf\b|\bNone\b(?! (?:fails|loses))"
    r"|-\d[\d.]* V (?:above|under|below|over|apart)|[a-z]\. [a-z]"
)
OWN = re.compile(r"\d+ °C column")  # a column of a standard's table has its own name
# What stands so on a device, in a file, or is somebody's own word.
DRAWN = {"number", "see", "advice", "stop"}  # turned where they are drawn: a step, a mounting, a charge in the cold
THERE = {"title", "key", "id", "example", "scpi", "programme", "svg", "name", "code", "customer", "notes", "path"}


def names(of: str) -> set[str]:
    """A set of names in the page's source."""
    found = re.search(rf"const {of} = new Set\(\[(.*?)\]\)", LOCALE.read_text(encoding="utf-8"), re.DOTALL)
    assert found is not None
    return set(re.findall(r"'(\w+)'", found[1]))


def untold(value: Any, key: str, turned: set[str], kept: set[str]) -> Iterator[tuple[str, str]]:
    """Strings with a figure that the page would leave as they are."""
    if isinstance(value, list):
        for item in value:
            yield from untold(item, key, turned, kept)
    elif isinstance(value, dict):
        for name, item in value.items():
            judged = {"title"} if "level" in value else set()
            if name not in kept and not (isinstance(item, str) and name in turned | judged) and name not in DRAWN:
                yield from untold(item, name, turned, kept)
    elif isinstance(value, str) and key not in THERE and FIGURE.search(OWN.sub("", value)):
        yield key, value


def answers(client: FlaskClient, design: Any) -> Iterator[tuple[str, Any]]:
    """Every address that a design alone is handed to, with each line of what it answers."""
    rules = client.application.url_map.iter_rules()
    for address in sorted(str(rule) for rule in rules if "POST" in (rule.methods or ()) and not rule.arguments):
        for body in (design, {"design": design, "vehicles": 50}, {"design": design}):
            answer = client.post(address, json=body)
            if answer.status_code == 200:
                break
        else:
            continue
        for line in answer.get_data(as_text=True).splitlines() if "json" in answer.content_type else []:
            yield address, json.loads(line)


def strings(value: Any, key: str = "") -> Iterator[tuple[str, str]]:
    """Every string of an answer with its name."""
    if isinstance(value, str):
        yield key, value
    for name, item in value.items() if isinstance(value, dict) else ():
        yield from strings(item, name)
    for item in value if isinstance(value, list) else ():
        yield from strings(item, key)


@pytest.mark.parametrize("job", range(1, 6))
def test_every_figure_in_words_is_turned(client: FlaskClient, job: int) -> None:
    """Every address that a design alone is handed to, for each demo job."""
    design = client.get(f"/api/jobs/{job}").get_json()["design"]
    turned, kept, answered = names("WORDS") | DRAWN, names("KEPT"), set()
    found: set[tuple[str, str, str]] = set()
    for address, line in answers(client, design):
        answered.add(address)
        found |= {(address, *item) for item in untold(line, "", turned, kept)}
    assert len(answered) >= 10
    assert found == set()


PIECES = [fuse(), cable()]
# A job in which whatever is counted is one, what can be nameless has no name, and the volts stand the wrong way round.
BARE = plain(
    supply={"pieces": [{"kind": "joint", "form": "plug", "name": "", "keyed": False, "rating_a": 20.0}, *PIECES]},
    delivery={"pieces": [{"kind": "branch", "name": " ", "current_a": 2.0, "device": fuse(5.0, "blade")}, *PIECES]},
    vehicle=vehicle(readings={"rest_v": 13.2, "after_stop_v": 13.4, "idle_v": 13.9, "cruise_v": 14.2}),
    use={"drive_days": 1, "drive_h": 1.0, "daily_ah": 60.0},
    choices={"keep_state_of_charge": 0.94},
    existing=[{"kind": "panel", "name": "", "carries": ["meter"]}],
    activation=activation(ways=["voltage"], start_v=13.5, stop_v=12.8),
)


@pytest.mark.parametrize("job", [*range(1, 6), "bare", *(f"random {seed}" for seed in range(4))])
def test_sentences_are_whole(client: FlaskClient, job: int | str) -> None:
    """ "1 days", "The  can be mated", "-0.85 V above resting", "outranks ours. flooded": none of these is said."""
    if isinstance(job, int):
        design = client.get(f"/api/jobs/{job}").get_json()["design"]
    elif job == "bare":
        design = BARE
    else:
        design = survey(random.Random(job))[0].model_dump(mode="json")
    own = {text for _, text in strings(design)}
    said = [
        (address, key, text)
        for address, line in answers(client, design)
        for key, text in strings(line)
        if key not in THERE and text not in own
    ]
    assert len(said) > 100
    assert [item for item in said if ODD.search(item[2])] == []
