"""Light on the sitters: a path tracer's three passes put together, in linear sRGB as the settled eye sees it.

Passes: what the key lights (without the gloss of skin), what the sky lights, and the gloss of skin in both. The lights
of the first two are white and the albedos are those under each lamp, so that colours are exact for light that meets a
surface once. Light that enters skin comes out beside: the key's light on skin is blurred, red widest (after d'Eon and
Luebke 2007).
"""

from __future__ import annotations

import tempfile
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import mitsuba as mi
import numpy as np
import pyoidn
from numpy.typing import NDArray
from scipy.ndimage import distance_transform_edt, gaussian_filter

from tools.portraits.light import Light, lamp

mi.set_variant("scalar_rgb")
Floats = NDArray[np.float64]

_FAR = 60.0
_EDGE_SAMPLES = 64
_BLUR_MM = ((2.4, 0.62, 0.8), (0.9, 0.5, 0.35), (0.25, 1.0, 0.25))
"""Of red, green and blue: the wide blur, its share, the narrow blur; standard deviations in millimetres."""


_ROUGH_ALONG, _ROUGH_AROUND, _HAIR_INDEX = 0.32, 0.35, 1.36
"""Of hair; its index is less than keratin's 1.55, or black hair looks grey under an even sky."""


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
    """Hairs: points (m, k, 3), radii (m, k), one spectrum (31,)."""

    name: str
    points: Floats
    radii: Floats
    albedo: Floats


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
                "rfilter": {"type": "box"},  # the denoiser wants pixels whose noise is their own
            },
            "sampler": {"type": "independent", "sample_count": samples},
        }  # fmt: skip


@dataclass
class Picture:
    """image (h, w, 3): linear sRGB; alpha (h, w); key, sky (h, w): how much of each light reaches a pixel, 1 on a card
    that faces the key; gloss (h, w, 3): what of the image is gloss."""

    image: Floats
    alpha: Floats
    key: Floats
    sky: Floats
    gloss: Floats


class Studio:
    """The sitters before a camera in a light."""

    def __init__(self, surfaces: list[Surface], strands: list[Strands], light: Light, camera: Camera) -> None:
        self.surfaces, self.strands, self.light, self.camera = surfaces, strands, light, camera
        self._folder = tempfile.TemporaryDirectory()

    def render(self, samples: int) -> Picture:
        """The picture, with `samples` rays a pixel in each pass."""
        light = self.light
        key_power, sky_power = lamp(light.key_kelvin), lamp(light.sky_kelvin)
        key = self._pass(key_power, self._key(1.0), samples, seed=1)
        sky = self._pass(sky_power, self._sky(1.0), samples, seed=2)
        white_key, white_sky = light.white(key_power), light.white(sky_power) * light.sky
        gloss = self._pass(None, self._key(white_key) | self._sky(white_sky), samples, seed=3)
        who, _, albedo = self.seen(key_power)
        skin = np.isin(who, [i for i, surface in enumerate(self.surfaces) if surface.skin])
        key = self._bled(key, albedo, skin, who != -1)
        image = (key * white_key + sky * white_sky + gloss) * light.exposure
        alpha = self._covered()
        by_key, by_sky = ((one / np.maximum(albedo, 1e-3)).mean(axis=2) for one in (key, sky))
        return Picture(image * alpha[..., None], alpha, by_key, by_sky * light.sky, gloss * light.exposure)

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

    def _pass(self, power: Floats | None, lights: dict[str, Any], samples: int, seed: int) -> Floats:
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
        # What covers half a pixel is half as bright: that is divided out, or its noise would be taken for detail.
        covered = found[..., 3]
        colour = found[..., :3] / np.maximum(covered, 1e-3)[..., None]
        nearest = distance_transform_edt(covered < 0.05, return_distances=False, return_indices=True)
        return np.asarray(pyoidn.denoise(np.ascontiguousarray(colour[tuple(nearest)]), hdr=True).astype(float))

    def _covered(self) -> Floats:
        """How much of each pixel the sitters cover, 0–1."""
        scene = mi.load_dict({"type": "scene", "integrator": {"type": "depth"},
                              "sensor": self.camera.dict(_EDGE_SAMPLES), **self._things(None)})  # fmt: skip
        return np.array(mi.render(scene, seed=4), dtype=float)[..., 3]

    def _things(self, power: Floats | None, plain: bool = False) -> dict[str, Any]:
        things: dict[str, Any] = {}
        for i, surface in enumerate(self.surfaces):
            if power is None or not surface.clear:
                things[f"surface{i}"] = self._mesh(surface, power)
        for i, strands in enumerate(self.strands):
            things[f"strands{i}"] = self._curves(strands, power, i, plain)
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

    def _curves(self, strands: Strands, power: Floats | None, number: int, plain: bool) -> dict[str, Any]:
        path = Path(self._folder.name) / f"{number}.txt"
        if not path.exists():
            rows = np.concatenate([strands.points, strands.radii[..., None]], axis=2)
            # A hit at the very end of the last curve makes the plugin read one beyond it: let that be one of no width.
            rows = np.concatenate([rows, rows[-1:] * [1, 1, 1, 1e-5]])
            with path.open("w") as file:
                for strand in rows:
                    file.write("".join("{:.5f} {:.5f} {:.5f} {:.5f}\n".format(*point) for point in strand) + "\n")
        bsdf: dict[str, Any]
        if power is None:
            bsdf = {"type": "diffuse", "reflectance": {"type": "rgb", "value": 0.0}}
        elif plain:
            bsdf = {"type": "diffuse", "reflectance": _rgb(self.light.albedo(strands.albedo, power))}
        else:
            bsdf = {
                "type": "hair", "sigma_a": _rgb(_absorption(self.light.albedo(strands.albedo, power))),
                "int_ior": _HAIR_INDEX, "longitudinal_roughness": _ROUGH_ALONG, "azimuthal_roughness": _ROUGH_AROUND,
            }  # fmt: skip
        return {"type": "bsplinecurve", "filename": str(path), "bsdf": bsdf}

    def seen(self, power: Floats) -> tuple[NDArray[np.int64], NDArray[np.int64], Floats]:
        """What each pixel's middle sees: surface (−1 for the ground, −2 for a hair),
        its triangle, and its albedo under a lamp."""
        sensor = self.camera.dict(1)
        sensor["film"] |= {"rfilter": {"type": "box"}, "pixel_format": "rgb"}
        sensor["sampler"] = {"type": "stratified", "sample_count": 1, "jitter": False}
        scene = mi.load_dict({
            "type": "scene", "sensor": sensor, "sky": {"type": "constant"}, **self._things(power, plain=True),
            "integrator": {"type": "aov", "aovs": "albedo:albedo,shape:shape_index,prim:prim_index"},
        })  # fmt: skip
        found = np.array(mi.render(scene, spp=1), dtype=float)
        # Shapes are counted from 1: 0 is nothing.
        albedo, shape, prim = found[..., :3], found[..., 3].astype(int) - 1, found[..., 4].astype(int)
        order = {i: shape.id() for i, shape in enumerate(scene.shapes())}
        mine = {f"surface{i}": i for i in range(len(self.surfaces))}
        table = np.array([mine.get(order[i], -2) for i in range(len(order))])
        there = albedo.sum(axis=2) > 0
        return np.where(there, table[np.clip(shape, 0, len(table) - 1)], -1), prim, albedo

    def _bled(self, key: Floats, albedo: Floats, skin: NDArray[np.bool_], covered: NDArray[np.bool_]) -> Floats:
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
        # A pixel at the outline whose middle is ground is skin all the same: it changes as its neighbour did.
        away, nearest = distance_transform_edt(~skin, return_indices=True)
        beside = tuple(nearest)
        changed = np.clip(out[beside] / np.maximum(key[beside], 1e-4), 0, 5)
        return np.where(((away > 0) & (away < 2) & ~covered)[..., None], key * changed, out)


def _absorption(colour: Floats) -> Floats:
    """Absorption inside a hair, per radius, of hair that looks like a colour in bulk (Chiang et al. 2016, eq. 9)."""
    b = _ROUGH_AROUND
    return np.asarray((np.log(colour) / (5.969 - 0.215 * b + 2.532 * b**2 - 10.73 * b**3 + 5.574 * b**4
                                         + 0.245 * b**5)) ** 2)  # fmt: skip


def _rgb(values: Any) -> dict[str, Any]:
    return {"type": "rgb", "value": [float(v) for v in np.broadcast_to(np.asarray(values, dtype=float), 3)]}


def _props(bsdf: dict[str, Any]) -> Any:
    props = mi.Properties()
    props["mesh_bsdf"] = mi.load_dict(bsdf)
    return props
