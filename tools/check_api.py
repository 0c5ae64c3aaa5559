"""Fail when the committed OpenAPI document is not what the application gives. `make api` renews it."""

from __future__ import annotations

import json
import sys
from pathlib import Path

from olvask.web.app import bare_app

COMMITTED = Path(__file__).parents[1] / "frontend/openapi.gen.json"


def main() -> int:
    """Compare and say which it is."""
    app = bare_app()
    with app.app_context():
        same = json.loads(COMMITTED.read_text(encoding="utf-8")) == json.loads(json.dumps(app.spec))
    if not same:
        print("frontend/openapi.gen.json is out of date: run make api", file=sys.stderr)
    return 0 if same else 1


if __name__ == "__main__":
    sys.exit(main())
