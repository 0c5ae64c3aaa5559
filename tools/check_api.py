"""Fail when what is made from the models is not what they give now. `make api` renews it."""

from __future__ import annotations

import json
import sys
from pathlib import Path

from olvask.web.app import bare_app
from olvask.web.fields import fields_typescript

FRONT = Path(__file__).parents[1] / "frontend"
DOCUMENT = FRONT / "openapi.gen.json"
FIELDS = FRONT / "src/api/fields.gen.ts"


def main() -> int:
    """Compare and say which is out of date."""
    app = bare_app()
    with app.app_context():
        spec = json.loads(json.dumps(app.spec))
    stale = [
        file.name
        for file, same in (
            (DOCUMENT, json.loads(DOCUMENT.read_text(encoding="utf-8")) == spec),
            (FIELDS, FIELDS.read_text(encoding="utf-8") == fields_typescript()),
        )
        if not same
    ]
    for name in stale:
        print(f"{name} is out of date: run make api", file=sys.stderr)
    return 1 if stale else 0


if __name__ == "__main__":
    sys.exit(main())
