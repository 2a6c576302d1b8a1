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
            maps = visitor.ask_until_done(f"{address}/layers/maps", {}).json["figures"]
            keep(name, visitor.ask(address).json["document"]["layers"], maps)


def keep(name: str, layers: list[Json], maps: list[Json]) -> None:
    """A plan as the demo loads it, and what its maps have at the spots."""
    names = {layer["id"]: f"layer-{number}" for number, layer in enumerate(layers, start=1)}
    planned = {spot for layer in layers for spot in layer["levels"]}
    for layer in layers:
        layer["id"] = names[layer["id"]]
    plan, drawn = ROOT / f"demo/plans/{name}.json", ROOT / f"demo/plans/{name}-maps.json"
    plan.write_text("[\n" + ",\n".join(json.dumps(layer) for layer in layers) + "\n]\n")
    figures = []
    for figure in maps:
        rows = []
        for row in figure["layers"]:
            levels = {spot: level for spot, level in row["levels"].items() if spot in planned}
            most = row["doses"][-1] if row["doses"] else None
            rows.append(f"{json.dumps(names[row['layer']])}: {json.dumps({'levels': levels, 'most': most})}")
        figures.append(f'{json.dumps(figure["id"])}: {{"layers": {{\n' + ",\n".join(rows) + "\n}}")
    drawn.write_text("{\n" + ",\n".join(figures) + "\n}\n")
    print(f"{plan}: {len(layers)} layers")


if __name__ == "__main__":
    main()
