"""Work out what the demo's screens show at first and keep it with the demo: `python -m tools.make_demo_results`, after
all other tools that make the demo.

Needed after a change of the demo or of what results say, so that nobody waits for what is always the same; a result
that is not found is worked out as ever.
"""

from __future__ import annotations

import json
import sqlite3
import time

from core.look.study import MODEL as SEEING
from core.recipe.recipe import MODEL
from tools.site import ROOT, Server, Visitor, demo_server

TARGET = ROOT / "demo/results.json"
_WRITTEN_S = 3.0
"""After so long the server has written what it worked out."""


def main() -> None:
    # What an earlier model said is not taken over.
    keep({})
    with demo_server() as server:
        ask_for_all(Visitor.signed_in(server))
        time.sleep(_WRITTEN_S)
        rows = written(server)
    keep(rows)
    print(f"{TARGET}: {len(rows)} results, {TARGET.stat().st_size / 1e3:.0f} kB")


def ask_for_all(visitor: Visitor) -> None:
    """What the screens of every piece ask for when they are opened."""
    for row in visitor.ask("/api/pieces").json:
        address = f"/api/pieces/{row['id']}"
        document = visitor.ask(address).json["document"]
        if document["layers"]:
            for figure in document["figures"]:
                visitor.ask_until_done(f"{address}/layers/plans", {"figure": figure["id"]})
            visitor.ask_until_done(f"{address}/layers", None)
            visitor.ask_until_done(f"{address}/layers/maps", {})
        visitor.ask_until_done(f"{address}/around", None)


def written(server: Server) -> dict[str, object]:
    """Results by their keys."""
    with sqlite3.connect(server.data / "caltin.sqlite3") as connection:
        return {key: json.loads(held) for key, held in connection.execute("SELECT key, held FROM pieces_result")}


def keep(rows: dict[str, object]) -> None:
    """Results as the demo loads them."""
    lines = ",\n".join(f"{json.dumps(key)}: {json.dumps(rows[key])}" for key in sorted(rows))
    made_with = json.dumps({"model": MODEL, "seeing": SEEING})
    TARGET.write_text(f'{{"made_with": {made_with}, "results": {{\n{lines}\n}}}}\n')


if __name__ == "__main__":
    main()
