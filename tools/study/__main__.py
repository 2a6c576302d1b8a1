"""Makes the study models; see the package."""

from __future__ import annotations

import argparse
import hashlib
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from core.light.directions import AZIMUTHS, EVEN, HARMONICS, frames
from core.light.model import WIDEST, geometry
from core.light.surface import normals_of
from tools.portraits.mesh import Source
from tools.study.bake import bake, scene_of, silhouette
from tools.study.places import places_of_bust, places_of_hand, planes_of
from tools.study.shapes import Shaped, bust, hand

OUT = Path(__file__).parents[2] / "core/light/data"
_MIDDLE = 1e-6
HEAD_ABOVE, HUNG_BELOW = -1.0, -1.3
"""From below, the head is something round that hangs over shoulders and chest, with light on all sides of it."""
HEAD = np.array([0.0, -0.1, 0.1])


def packed(shaped: Shaped, symmetric: bool) -> dict[str, NDArray[Any]]:
    """The arrays of a model's file."""
    half = _half(shaped) if symmetric else shaped
    low, high = half.vertices.min(axis=0), half.vertices.max(axis=0)
    if symmetric:
        low[0] = 0.0
    held: dict[str, NDArray[Any]] = {
        "box": np.stack([low, high]),
        "vertices": np.rint((half.vertices - low) / (high - low) * 65535).astype(np.uint16),
        "triangles": half.triangles.astype(np.uint16),
        "symmetric": np.array(symmetric),
    }
    vertices, triangles, _ = geometry(held)
    normals = normals_of(vertices, triangles)
    count = len(half.vertices)
    around, aside = frames(normals)
    scene = scene_of(vertices, triangles)
    low = vertices[:count, 1] < HUNG_BELOW if symmetric else np.zeros(count, bool)
    head = (vertices[triangles][:, :, 1] > HEAD_ABOVE).all(axis=1)
    transfer, horizon, ceiling, over = (
        np.zeros((count, width)) for width in (HARMONICS, AZIMUTHS, AZIMUTHS, AZIMUTHS)
    )  # fmt: skip
    for mine, near in ((low, scene_of(vertices, triangles[~head])), (~low, scene)):
        if mine.any():
            held_by = (held[:count][mine] for held in (vertices, normals, around, aside))
            transfer[mine], horizon[mine], ceiling[mine] = bake(scene, near, *held_by)
    if low.any():
        over[low] = silhouette(scene_of(vertices, triangles[head]), vertices[:count][low], HEAD)
    places = places_of_bust(half, transfer[:, 0] / EVEN) if symmetric else places_of_hand(half)
    weights = np.stack(list(places.values()), axis=1)
    plane, middle = planes_of(half, symmetric)
    scale = np.abs(transfer).max(axis=0)
    return held | {
        "transfer": np.rint(transfer / scale * 127).astype(np.int8),
        "transfer_scale": scale,
        "horizon": np.rint(horizon * 255).astype(np.uint8),
        "ceiling": np.rint(ceiling * 255).astype(np.uint8),
        "over": np.rint(over / WIDEST * 255).astype(np.uint8),
        "over_centre": HEAD,
        "places": np.rint(weights / weights.sum(axis=1, keepdims=True) * 255).astype(np.uint8),
        "names": np.array(list(places)),
        "plane": plane.astype(np.uint8),
        "middle_planes": np.array(middle),
    }


def _half(shaped: Shaped) -> Shaped:
    """What lies on the sitter's left and on the middle."""
    mine = shaped.vertices[:, 0] > -_MIDDLE
    triangles = shaped.triangles[mine[shaped.triangles].all(axis=1)]
    used, triangles = np.unique(triangles, return_inverse=True)
    vertices = shaped.vertices[used]
    vertices[np.abs(vertices[:, 0]) < _MIDDLE, 0] = 0.0
    return Shaped(vertices, shaped.normals[used], triangles.reshape(-1, 3), shaped.masks[used])


def main() -> None:
    """Writes every model and says its digest."""
    parser = argparse.ArgumentParser(prog="python -m tools.study")
    parser.add_argument("--wheel", type=Path, required=True)
    source = Source(parser.parse_args().wheel)
    for name, shaped in (("bust", bust(source)), ("hand-flat", hand(source, False)), ("hand-bent", hand(source, True))):
        held = packed(shaped, symmetric=name == "bust")
        np.savez_compressed(OUT / f"{name}.npz", **held)
        content = (OUT / f"{name}.npz").read_bytes()
        print(name, len(content), hashlib.sha256(content).hexdigest())


if __name__ == "__main__":
    main()
