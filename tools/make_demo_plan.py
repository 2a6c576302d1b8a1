"""Plan the demo's pieces in layers anew and keep the plans with the demo: `python -m tools.make_demo_plan`.

Needed after a change of what plans are.
"""

from __future__ import annotations

import json

from tools.site import ROOT, Json, Visitor, demo_server

PLANS = {"night-watch": ("Night watch", 6), "below-deck": ("Below deck", 7)}
"""By the name of the file: how the piece's title begins, and in how many layers."""


def main() -> None:
    with demo_server() as server:
        visitor = Visitor.signed_in(server)
        for name, (title, count) in PLANS.items():
            row = next(row for row in visitor.ask("/api/pieces").json if row["title"].startswith(title))
            address = f"/api/pieces/{row['id']}"
            body = {"version": visitor.ask(address).json["version"], "layers": count}
            answer = visitor.ask_until_done(f"{address}/layers", body)
            assert answer.status == 200, answer.body[:300]
            keep(name, visitor.ask(address).json["document"]["layers"])


def keep(name: str, layers: list[Json]) -> None:
    """A plan as the demo loads it."""
    for number, layer in enumerate(layers, start=1):
        layer["id"] = f"layer-{number}"
    rows = ",\n".join(json.dumps(layer) for layer in layers)
    plan = ROOT / f"demo/plans/{name}.json"
    plan.write_text(f"[\n{rows}\n]\n")
    print(f"{plan}: {len(layers)} layers")


if __name__ == "__main__":
    main()
