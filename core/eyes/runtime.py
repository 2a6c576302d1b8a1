"""The trained models: loaded when first needed, once in a process, and run on one picture at a time."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from threading import Lock
from typing import Any

import numpy as np
from numpy.typing import NDArray

from core.errors import CaltinError

Image32 = NDArray[np.float32]


class EyesError(CaltinError):
    """A model is missing or damaged; everything that does not look for faces goes on."""


@dataclass(frozen=True, slots=True)
class Model:
    """file: in core/eyes/models. digest: its SHA-256. side: of the square RGB picture that goes in, in pixels."""

    file: str
    digest: str
    side: int


DETECTOR = Model(
    "face_detection_full_range_sparse.tflite", "2c3728e6da56f21e21a320433396fb06d40d9088f2247c05e5635a688d45dfe1", 192
)
MESH = Model("face_landmark.tflite", "1055cb9d4a9ca8b8c688902a3a5194311138ba256bcc94e336d8373a5f30c814", 192)
IRIS = Model("iris_landmark.tflite", "d1744d2a09c25f501d39eba4faff47e53ecca8852c5ce19bce8eeac39357521f", 64)


class _Runner:
    """An interpreter with its memory: one call at a time."""

    def __init__(self, model: Model) -> None:
        self._lock = Lock()
        try:
            content = files("core.eyes").joinpath("models", model.file).read_bytes()
        except OSError as error:
            raise _broken(model) from error
        if hashlib.sha256(content).hexdigest() != model.digest:
            raise _broken(model)
        # Loads slowly and brings memory of its own: only who looks for faces need have it.
        from ai_edge_litert.interpreter import Interpreter

        self._held: Any = Interpreter(model_content=content, num_threads=1)
        self._held.allocate_tensors()
        self._into = self._held.get_input_details()[0]["index"]
        self._out = [row["index"] for row in self._held.get_output_details()]

    def __call__(self, picture: Image32) -> list[NDArray[np.float32]]:
        with self._lock:
            self._held.set_tensor(self._into, picture[None])
            self._held.invoke()
            return [self._held.get_tensor(index)[0] for index in self._out]


@cache
def _runner(model: Model) -> _Runner:
    return _Runner(model)


def run(model: Model, picture: Image32) -> list[NDArray[np.float32]]:
    """What a model says of a picture (side, side, 3), output by output. Raises EyesError (`model_broken`)."""
    return _runner(model)(picture)


def _broken(model: Model) -> EyesError:
    return EyesError(
        "model_broken",
        f"Faces cannot be looked for: the file {model.file} is missing or damaged.",
        "Install Caltin again. Meanwhile paint the skin by hand; everything else works.",
    )
