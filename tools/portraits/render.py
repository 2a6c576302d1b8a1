"""Light on the sitters: a path tracer's three passes put together, in linear sRGB as the settled eye sees it.

Passes: what the key lights (without the gloss of skin), what the sky lights, and the gloss of skin in both. The lights
of the first two are white and the albedos are those under each lamp, so that colours are exact for light that meets a
surface once. Light that enters skin comes out beside: the key's light on skin is blurred, red widest (after d'Eon and
Luebke 2007).
"""

from __future__ import annotations

import tempfile
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import mitsuba as mi
import numpy as np
import pyoidn
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter

from tools.portraits.light import Light, lamp

mi.set_variant("scalar_rgb")
Floats = NDArray[np.float64]

_FAR = 60.0
_BLUR_MM = ((2.4, 0.62, 0.8), (0.9, 0.5, 0.35), (0.25, 1.0, 0.25))
"""Of red, green and blue: the wide blur, its share, the narrow blur; standard deviations in millimetres."""


@dataclass
class Surface:
    """A mesh. albedo (n, 31): its spectrum at each vertex. gloss: strength of its highlights (n,), roughness: of skin
    alone."""

    name: str
    vertices: Floats
    triangles: NDArray[np.int64]
    normals: Floats
    albedo: Floats
    skin: bool = False
    gloss: Floats | None = None
    roughness: float = 0.45
    clear: bool = False
    """Nothing but gloss, as the cornea is."""


@dataclass
class Strands:
    """Hairs or fibres: points (m, k, 3), radii (m, k), one spectrum (31,), shine."""

    name: str
    points: Floats
    radii: Floats
    albedo: Floats
    shine: float = 0.0


@dataclass
class Camera:
    """Where from, where to, and the vertical field of view in degrees."""

    at: tuple[float, float, float]
    to: tuple[float, float, float]
    view_deg: float
    width: int
    height: int

    def dict(self, samples: int) -> dict[str, Any]:
        return {
            "type": "perspective",
            "fov": self.view_deg,
            "fov_axis": "y",
            "to_world": mi.ScalarTransform4f().look_at(list(self.at), list(self.to), [0, 1, 0]),
            "film": {
                "type": "hdrfilm", "width": self.width, "height": self.height, "pixel_format": "rgba",
                "rfilter": {"type": "gaussian", "stddev": 0.45},
            },
            "sampler": {"type": "independent", "sample_count": samples},
        }  # fmt: skip


@dataclass
class Picture:
    """image (h, w, 3): linear sRGB; alpha (h, w); key (h, w): how much of the key each pixel gets; who (h, w): index of
    the surface seen, −1 for none; prim (h, w): which of its triangles."""

    image: Floats
    alpha: Floats
    key: Floats
    who: NDArray[np.int64] = field(default_factory=lambda: np.empty(0, np.int64))
    prim: NDArray[np.int64] = field(default_factory=lambda: np.empty(0, np.int64))


class Studio:
    """The sitters before a camera in a light."""

    def __init__(self, surfaces: list[Surface], strands: list[Strands], light: Light, camera: Camera) -> None:
        self.surfaces, self.strands, self.light, self.camera = surfaces, strands, light, camera
        self._folder = tempfile.TemporaryDirectory()

    def render(self, samples: int) -> Picture:
        """The picture, with `samples` rays a pixel in each pass."""
        light = self.light
        key_power, sky_power = lamp(light.key_kelvin), lamp(light.sky_kelvin)
        key, alpha = self._pass(key_power, self._key(1.0), samples, seed=1)
        sky, _ = self._pass(sky_power, self._sky(1.0), samples, seed=2)
        white_key, white_sky = light.white(key_power), light.white(sky_power) * light.sky
        gloss, _ = self._pass(None, self._key(white_key) | self._sky(white_sky), samples, seed=3)
        who, prim, albedo = self._seen(key_power)
        skin = np.isin(who, [i for i, surface in enumerate(self.surfaces) if surface.skin])
        key = self._bled(key, albedo, skin)
        image = (key * white_key + sky * white_sky + gloss) * light.exposure
        lit = np.where(albedo.min(axis=2) > 1e-4, (key / np.maximum(albedo, 1e-4)).mean(axis=2), 0.0)
        return Picture(image, np.clip(alpha, 0, 1), lit, who, prim)

    def _key(self, radiance: Any) -> dict[str, Any]:
        size = _FAR * np.tan(np.radians(self.light.half_angle))
        towards = self.light.direction
        # A white card that faces the key reflects as much as it would of a radiance of 1.
        strength = (_FAR / size) ** 2
        return {
            "key": {
                "type": "disk",
                "to_world": mi.ScalarTransform4f()
                .look_at(list(towards * _FAR), [0, 0, 0], [0, 1, 0.01])
                .scale([size, size, 1]),
                "emitter": {"type": "area", "radiance": _rgb(np.asarray(radiance) * strength)},
            }
        }

    def _sky(self, radiance: Any) -> dict[str, Any]:
        light = self.light
        height, width = 32, 64
        v, u = np.meshgrid((np.arange(height) + 0.5) / height, (np.arange(width) + 0.5) / width, indexing="ij")
        theta, phi = np.pi * v, 2 * np.pi * u
        directions = np.stack([np.sin(phi) * np.sin(theta), np.cos(theta), -np.cos(phi) * np.sin(theta)], axis=-1)
        a, h = np.radians([light.sky_azimuth, light.sky_height])
        middle = np.array([np.sin(a) * np.cos(h), np.sin(h), np.cos(a) * np.cos(h)])
        lobe = np.clip((directions @ middle + 0.6) / 1.6, 0, 1) ** 2
        values = light.sky_even + (1 - light.sky_even) * 2.2 * lobe
        picture = values[..., None] * np.broadcast_to(np.asarray(radiance, dtype=float), 3)
        return {"sky": {"type": "envmap", "bitmap": mi.Bitmap(picture.astype(np.float32))}}

    def _pass(self, power: Floats | None, lights: dict[str, Any], samples: int, seed: int) -> tuple[Floats, Floats]:
        scene = mi.load_dict(
            {
                "type": "scene",
                "integrator": {"type": "path", "max_depth": 5 if power is not None else 3, "hide_emitters": True},
                "sensor": self.camera.dict(samples),
                **lights,
                **self._things(power),
            }
        )
        found = np.array(mi.render(scene, spp=samples, seed=seed), dtype=np.float32)
        return pyoidn.denoise(found[..., :3], hdr=True).astype(float), found[..., 3].astype(float)

    def _things(self, power: Floats | None) -> dict[str, Any]:
        things: dict[str, Any] = {}
        for i, surface in enumerate(self.surfaces):
            if power is None or not surface.clear:
                things[f"surface{i}"] = self._mesh(surface, power)
        for i, strands in enumerate(self.strands):
            things[f"strands{i}"] = self._curves(strands, power, i)
        return things

    def _mesh(self, surface: Surface, power: Floats | None) -> Any:
        bsdf: dict[str, Any]
        colour = {"type": "mesh_attribute", "name": "vertex_colour"}
        if power is None:
            if surface.gloss is None:
                bsdf = {"type": "diffuse", "reflectance": {"type": "rgb", "value": 0.0}}
            else:
                shine = {"type": "mesh_attribute", "name": "vertex_gloss"}
                bsdf = {
                    "type": "principled", "base_color": {"type": "rgb", "value": 0.0}, "specular": 0.42,
                    "roughness": surface.roughness,
                }  # fmt: skip
                dark = {"type": "diffuse", "reflectance": {"type": "rgb", "value": 0.0}}
                bsdf = {"type": "blendbsdf", "weight": shine, "a": dark, "b": bsdf}
        else:
            bsdf = {"type": "diffuse", "reflectance": colour}
        mesh = mi.Mesh(
            surface.name, len(surface.vertices), len(surface.triangles), has_vertex_normals=True,
            props=_props({"type": "twosided", "bsdf": bsdf}),
        )  # fmt: skip
        if power is not None:
            mesh.add_attribute("vertex_colour", 3, self.light.albedo(surface.albedo, power).astype(np.float32).ravel())
        elif surface.gloss is not None:
            mesh.add_attribute("vertex_gloss", 1, np.clip(surface.gloss, 0, 1).astype(np.float32).ravel())
        values = mi.traverse(mesh)
        values["vertex_positions"] = surface.vertices.astype(np.float32).ravel()
        values["vertex_normals"] = surface.normals.astype(np.float32).ravel()
        values["faces"] = surface.triangles.astype(np.uint32).ravel()
        values.update()
        return mesh

    def _curves(self, strands: Strands, power: Floats | None, number: int) -> dict[str, Any]:
        path = Path(self._folder.name) / f"{number}.txt"
        if not path.exists():
            rows = np.concatenate([strands.points, strands.radii[..., None]], axis=2)
            with path.open("w") as file:
                for strand in rows:
                    file.write("".join("{:.5f} {:.5f} {:.5f} {:.5f}\n".format(*point) for point in strand) + "\n")
        bsdf: dict[str, Any]
        if power is None:
            bsdf = {"type": "diffuse", "reflectance": {"type": "rgb", "value": 0.0}}
            if strands.shine:
                bsdf = {
                    "type": "principled", "base_color": {"type": "rgb", "value": 0.0}, "specular": 0.5,
                    "roughness": 0.38,
                }  # fmt: skip
        else:
            bsdf = {"type": "diffuse", "reflectance": _rgb(self.light.albedo(strands.albedo, power))}
        return {"type": "bsplinecurve", "filename": str(path), "bsdf": {"type": "twosided", "bsdf": bsdf}}

    def _seen(self, power: Floats) -> tuple[NDArray[np.int64], NDArray[np.int64], Floats]:
        """What each pixel's middle sees: surface, triangle, albedo under a lamp."""
        sensor = self.camera.dict(1)
        sensor["film"] |= {"rfilter": {"type": "box"}, "pixel_format": "rgb"}
        sensor["sampler"] = {"type": "stratified", "sample_count": 1, "jitter": False}
        scene = mi.load_dict({
            "type": "scene", "sensor": sensor, "sky": {"type": "constant"}, **self._things(power),
            "integrator": {"type": "aov", "aovs": "albedo:albedo,shape:shape_index,prim:prim_index"},
        })  # fmt: skip
        found = np.array(mi.render(scene, spp=1), dtype=float)
        albedo, shape, prim = found[..., :3], found[..., 3].astype(int), found[..., 4].astype(int)
        order = {i: shape.id() for i, shape in enumerate(scene.shapes())}
        mine = {f"surface{i}": i for i in range(len(self.surfaces))}
        table = np.array([mine.get(order[i], -2) for i in range(len(order))])
        there = albedo.sum(axis=2) > 0
        return np.where(there, table[np.clip(shape, 0, len(table) - 1)], -1), prim, albedo

    def _bled(self, key: Floats, albedo: Floats, skin: NDArray[np.bool_]) -> Floats:
        """The key's light on skin, blurred by how far each colour travels under it."""
        reach = np.linalg.norm(np.subtract(self.camera.at, self.camera.to))
        per_mm = self.camera.height / (2 * reach * np.tan(np.radians(self.camera.view_deg / 2))) / 100
        mask = skin.astype(float)
        out = key.copy()
        for channel, (wide, share, narrow) in enumerate(_BLUR_MM):
            lit = np.where(skin, key[..., channel] / np.maximum(albedo[..., channel], 1e-3), 0.0)

            def blurred(sigma: float, lit: Floats = lit) -> Floats:
                return gaussian_filter(lit, sigma * per_mm) / np.maximum(gaussian_filter(mask, sigma * per_mm), 1e-3)

            mixed = share * blurred(wide) + (1 - share) * blurred(narrow)
            out[..., channel] = np.where(skin, mixed * albedo[..., channel], key[..., channel])
        return out


def _rgb(values: Any) -> dict[str, Any]:
    return {"type": "rgb", "value": [float(v) for v in np.broadcast_to(np.asarray(values, dtype=float), 3)]}


def _props(bsdf: dict[str, Any]) -> Any:
    props = mi.Properties()
    props["mesh_bsdf"] = mi.load_dict(bsdf)
    return props
