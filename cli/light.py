"""Imagined light on the command line: what a scene shows, its families, targets and jobs."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from dataclasses import asdict
from pathlib import Path
from typing import Any

import numpy as np

from cli.layers import save
from core.colour.spaces import SRGB, Floats, lab_to_hex
from core.errors import InputError
from core.exchange.json_files import NamedSpot
from core.exchange.map_questions import map_of
from core.exchange.pen import FILE_KINDS
from core.exchange.scene_json import read_scene
from core.light.jobs import MOST_STEPS, jobs
from core.light.questions import proposals
from core.light.scene import Scene
from core.light.sheet import drawn, lit_of
from core.light.words import edge_of, lamp_words, where_from
from core.look.picture import Picture
from core.look.views import Pixels

Read = Callable[[str, str], bytes]


def add_commands(commands: Any, read: Read) -> None:
    """Adds `light`."""
    light = commands.add_parser("light", help="families and targets of an imagined scene")
    light.add_argument("--scene", required=True, metavar="FILE.json", help="who sits under which light")
    light.add_argument("--picture", metavar="OUT.png", help="write what it looks like")
    light.add_argument("--map", metavar="OUT.pdf|OUT.svg|OUT.png", help="write its shading map")
    light.add_argument("--steps", type=int, default=MOST_STEPS, metavar="N", help="from light to shade, 2 to 5")
    light.add_argument("--json", action="store_true", help="on one line")
    light.set_defaults(run=lambda options: _light(options, read))


def scene_of(name: str, read: Read) -> Scene:
    """The scene in a file. Raises InputError."""
    return read_scene(read(name, "scene"))


def spots_of(scene: Scene) -> tuple[list[NamedSpot], Floats, Picture]:
    """The proposed spots of every sitter, what they aim for (n, 3) in CIELAB, and the picture that shows them."""
    spots, labs = [], []
    for number, sitter in enumerate(proposals(scene)):
        figure = sitter.name or f"figure {number + 1}"
        for target, disc in zip(sitter.proposed, sitter.discs, strict=True):
            spots.append(NamedSpot(target.name, figure, target.place, target.role, disc))
            labs.append(target.lab)
    return spots, np.array(labs), Picture(drawn(scene), SRGB, "imagined")


def _light(options: argparse.Namespace, read: Read) -> dict[str, Any]:
    scene = scene_of(options.scene, read)
    pixels: Pixels = drawn(scene)
    if options.picture:
        save(pixels, options.picture, "--picture")
    if options.map:
        _write_map(scene, options.map)
    key = scene.key
    return {
        "light": {"from": where_from(key), "edge": edge_of(key), "lamp": lamp_words(key.lamp)},
        "sheet": {"width": pixels.shape[1], "height": pixels.shape[0]},
        "sitters": [
            {
                "name": said.name,
                "complexion": sitter.skin.words,
                "targets": [_row(row) for row in said.targets],
                "spots": [
                    _row(row) | {"on_sheet": asdict(disc)} for row, disc in zip(said.proposed, said.discs, strict=True)
                ],
                "jobs": [asdict(job) | {"colour": lab_to_hex(job.lab)} for job in jobs(lit, options.steps)],
            }
            for said, sitter, lit in zip(proposals(scene), scene.sitters, lit_of(scene), strict=True)
        ],
    }


def _row(row: Any) -> dict[str, Any]:
    return asdict(row) | {"name": row.name, "colour": lab_to_hex(row.lab)}


def _write_map(scene: Scene, name: str) -> None:
    kind = Path(name).suffix.lower().removeprefix(".")
    if kind not in FILE_KINDS:
        raise InputError("bad_map", "A shading map is a PDF, an SVG or a PNG.", "End its name so.", "--map")
    try:
        Path(name).write_bytes(map_of(scene, False, kind))
    except OSError as error:
        raise InputError("no_file", f"{name} cannot be written.", "Check the path.", "--map") from error
