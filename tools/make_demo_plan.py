"""Plan the demo's first piece in layers anew and keep the plan with the demo: `python -m tools.make_demo_plan`, after a
change of what plans are."""

from __future__ import annotations

import json

from tools.site import ROOT, Visitor, demo_server

PLAN = ROOT / "demo/plans/night-watch.json"
_LAYERS = 6


def main() -> None:
    with demo_server() as server:
        visitor = Visitor.signed_in(server)
        row = next(row for row in visitor.ask("/api/pieces").json if row["title"].startswith("Night watch"))
        address = f"/api/pieces/{row['id']}"
        body = {"version": visitor.ask(address).json["version"], "layers": _LAYERS}
        answer = visitor.ask_until_done(f"{address}/layers", body)
        assert answer.status == 200, answer.body[:300]
        layers = visitor.ask(address).json["document"]["layers"]
    for number, layer in enumerate(layers, start=1):
        layer["id"] = f"layer-{number}"
    rows = ",\n".join(json.dumps(layer) for layer in layers)
    PLAN.write_text(f"[\n{rows}\n]\n")
    print(f"{PLAN}: {len(layers)} layers")


if __name__ == "__main__":
    main()
