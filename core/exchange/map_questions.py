"""Shading maps as a question that another process can answer."""

from __future__ import annotations

from dataclasses import replace

from core.exchange.shading_map import Plate, write_map
from core.light.lines import arrow, line_study
from core.light.scene import Scene
from core.light.shade import light
from core.light.words import where_from

_SIDE = 560
SIDE_MM = 120.0


def map_of(scene: Scene, opposite: bool, kind: str, side_mm: float = SIDE_MM) -> bytes:
    """A line study of every sitter, so wide and high, as a file of a kind (see core.exchange.pen). opposite:
    beside it the light from the other side.

    Raises what core.light.scene.check_scene raises, ModelError, InputError (`unknown_format`).
    """
    other = replace(scene, key=replace(scene.key, azimuth=-scene.key.azimuth))
    plates = [
        Plate(
            sitter.name or f"Figure {number + 1}",
            line_study(light(one, number, _SIDE)),
            arrow(one.key),
            f"Light {where_from(one.key)}",
        )
        for number, sitter in enumerate(scene.sitters)
        for one in ([scene, other] if opposite else [scene])
    ]
    return write_map(plates, side_mm, "Shading map", kind)
