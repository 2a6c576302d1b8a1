"""Documents learn about balance, light, sheet, measuring, faces, strokes and outlines."""

from __future__ import annotations

from typing import Any

from django.db import migrations

ADDED: dict[str, Any] = {
    "balance": None,
    "light": None,
    "sheet": {"width_mm": 210.0, "height_mm": 297.0, "margin_mm": 10.0, "fit": "whole", "shift_x": 0.5, "shift_y": 0.5},
    "grid": None,
    "cross": None,
    "marks": [],
    "unit": None,
}


def add(apps: Any, _: Any) -> None:
    for revision in apps.get_model("pieces", "Revision").objects.iterator():
        document = ADDED | revision.document
        document["figures"] = [{"face": None, "strokes": []} | figure for figure in document["figures"]]
        document["spots"] = [{"outline": None} | spot for spot in document["spots"]]
        for spot in document["spots"]:
            if spot.get("reading"):
                spot["reading"].setdefault("straddles", False)
        revision.document = document
        revision.save(update_fields=["document"])


class Migration(migrations.Migration):
    dependencies = [("pieces", "0001_initial")]
    operations = [migrations.RunPython(add, migrations.RunPython.noop)]
