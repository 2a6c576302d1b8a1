"""Looking at a piece's reference: study, ways of seeing, suggestions, measures and the transfer page."""

from __future__ import annotations

import hashlib
import io
import json
import uuid
from collections.abc import Callable
from dataclasses import asdict
from typing import Any

import numpy as np
from django.contrib.auth.models import User
from numpy.typing import NDArray
from PIL import Image

from core.colour.spaces import lab_to_xyz, xyz_to_lab
from core.colour.swatch import Swatch
from core.errors import InputError
from core.limits import LIMITS
from core.look import measuring, views
from core.look.balance import Balance, balance_on
from core.look.borders import border_lines
from core.look.places import SeenSpot, doubt, notes
from core.look.reading import Disc, Outline, Region, middle_of, read_spot
from core.look.study import WORKING_SIZE, Study, study
from core.look.suggest import suggest
from server.pieces.models import Picture
from server.pieces.services.kept import Kept
from server.pieces.services.migrate import Document
from server.pieces.services.pictures import LONGEST_SHOWN, decoded, get_picture, small_of
from server.pieces.services.soundness import person_of

NO_SKIN = "No skin was found in this picture. Mark it by hand: choose Add skin and paint over it."
UNCERTAIN = "No face was found. What is marked as skin is guessed from its colour: check it, and paint it right."
COLOURLESS = "The picture is black and white: values work as always, there is no temperature and no hue to find."

_studies: Kept[str, Study] = Kept(6)
_balances: Kept[tuple[str, Disc], Balance] = Kept(20)
_views: Kept[tuple[object, ...], bytes] = Kept(60)


def region_of(spot: dict[str, Any]) -> Region:
    """What a spot holds: its outline if it has one, else its disc."""
    if spot.get("outline"):
        return Outline(tuple((float(x), float(y)) for x, y in spot["outline"]))
    return Disc(spot["x"], spot["y"], spot["radius"])


def in_place(spot: dict[str, Any]) -> dict[str, Any]:
    """The spot with its centre where its outline is."""
    region = region_of(spot)
    if isinstance(region, Disc):
        return spot
    x, y = middle_of(region)
    return {**spot, "x": x, "y": y}


def check_balance(user: User, document: Document) -> None:
    """Raises InputError (field `document.balance`) unless the picture can be balanced as the document says."""
    if document["balance"] and document["picture"]:
        _balance(get_picture(user, document["picture"]), document)


def look_key(document: Document) -> str:
    """Changes whenever what is seen of the reference could."""
    people = [[figure["id"], figure["face"], figure["strokes"]] for figure in document["figures"]]
    parts = [document["picture"], document["balance"], people]
    return hashlib.sha256(json.dumps(parts, sort_keys=True).encode()).hexdigest()[:16]


def placement(picture: Picture | None, document: Document) -> measuring.Placement | None:
    """How the reference sits on the sheet. Raises InputError for a sheet that cannot be."""
    if picture is None:
        return None
    return measuring.place_on(measuring.Sheet(**document["sheet"]), picture.width, picture.height)


def measured(picture: Picture | None, document: Document) -> list[measuring.Measured]:
    """Every mark of the document on the reference and on the sheet."""
    place = placement(picture, document)
    if picture is None or place is None:
        return []
    marks = [measuring.Mark(**mark) for mark in document["marks"]]
    return measuring.measure(marks, document["unit"], picture.width, picture.height, place)


def measured_one(user: User, document: Document, mark: dict[str, Any]) -> measuring.Measured:
    """A mark that is being drawn; nothing is stored."""
    marks = [m for m in document["marks"] if m["id"] != mark["id"]]
    picture = _picture(user, document)
    return measured(picture, {**document, "marks": [*marks, mark]})[-1]


def _picture(user: User, document: Document) -> Picture:
    if not document["picture"]:
        raise InputError("no_picture_yet", "This piece has no reference yet.", "Put in a picture first.", "picture")
    return get_picture(user, document["picture"])


def _balance(picture: Picture, document: Document) -> Balance | None:
    if not document["balance"]:
        return None
    disc = Disc(**document["balance"])
    try:
        return _balances.get((picture.digest, disc), lambda: balance_on(decoded(picture.digest), disc))
    except InputError as error:
        raise InputError(error.code, error.message, error.hint, "document.balance") from error


def study_of(picture: Picture, document: Document) -> Study:
    """What the reference shows of the figures of the document."""

    def make() -> Study:
        people = [person_of(figure) for figure in document["figures"]]
        return study(small_of(picture.digest, WORKING_SIZE), _balance(picture, document), people)

    return _studies.get(look_key(document) + picture.digest, make)


def studied(user: User, document: Document) -> dict[str, Any]:
    """What the reference shows about its figures and spots. Raises InputError (`no_picture_yet`)."""
    picture = _picture(user, document)
    seen = study_of(picture, document)
    balance = _balance(picture, document)
    figures = [
        {
            "id": figure["id"],
            **{key: getattr(found, key) for key in ("found", "certain", "lightest", "darkest", "border")},
            "average": asdict(Swatch.of(found.average)) if found.average else None,
            "complexion": asdict(found.complexion) if found.complexion else None,
        }
        for figure, found in zip(document["figures"], seen.figures, strict=True)
    ]
    return {
        "figures": figures,
        "spots": [_spot(spot, document, seen, balance) for spot in document["spots"]],
        "colourless": seen.colourless,
        "trouble": _trouble(seen),
        "light_from_deg": seen.light_from_deg,
    }


def _trouble(seen: Study) -> str:
    said = [COLOURLESS] if seen.colourless else []
    if not seen.skin.any():
        said.append(NO_SKIN)
    elif not any(figure.certain for figure in seen.figures):
        said.append(UNCERTAIN)
    return " ".join(said)


def _spot(spot: dict[str, Any], document: Document, seen: Study, balance: Balance | None) -> dict[str, Any]:
    said = {"id": spot["id"], "family": "", "note": notes()[spot["place"]], "doubt": "", "balanced": None}
    if not spot["reading"]:
        return said
    h, w = seen.owners.shape
    at = min(h - 1, int(spot["y"] * h)), min(w - 1, int(spot["x"] * w))
    number = [figure["id"] for figure in document["figures"]].index(spot["figure"])
    border = seen.figures[number].border
    if seen.owners[at]:
        said["family"] = "light" if seen.light[at] else "shadow"
    elif border is not None:
        said["family"] = "light" if spot["reading"]["swatch"]["value"] >= border else "shadow"
    others = [_seen(o) for o in document["spots"] if o["figure"] == spot["figure"] and o["reading"] and o is not spot]
    from_deg = document["light"]["from_deg"] if document["light"] else seen.light_from_deg
    said["doubt"] = doubt(_seen(spot), others, from_deg is None or from_deg < 180)
    if balance is not None:
        xyz = lab_to_xyz(spot["reading"]["swatch"]["lab"])
        said["balanced"] = asdict(Swatch.of(xyz_to_lab(balance.apply(xyz))))
    return said


def _seen(spot: dict[str, Any]) -> SeenSpot:
    swatch = spot["reading"]["swatch"]
    return SeenSpot(spot["place"], spot["role"], tuple(swatch["lab"]), swatch["value"])


def suggested(user: User, document: Document) -> dict[str, Any]:
    """Figures and spots that Caltin would mark; nothing is stored.

    Faces that nobody has yet become figures without a face first, then new figures.
    """
    picture = _picture(user, document)
    seen = study_of(picture, document)
    held = []
    for figure, found in zip(document["figures"], seen.figures, strict=True):
        face = asdict(found.face) if found.face else None
        held.append({**figure, "face": face, "is_new": False})
    taken = [figure["face"] for figure in held]
    extra = [asdict(face) for face in seen.faces if asdict(face) not in taken]
    for number, face in enumerate(extra[: LIMITS.figures - len(held)], start=len(held) + 1):
        new = {"id": f"figure-{uuid.uuid4().hex[:8]}", "name": f"Figure {number}", "face": face, "strokes": []}
        held.append({**new, "is_new": True})
    if extra:
        seen = study_of(picture, {**document, "figures": held})
    pixels = decoded(picture.digest)
    spots = [
        {**asdict(s), "figure": figure["id"], "swatch": asdict(read_spot(pixels, Disc(s.x, s.y, s.radius)).swatch)}
        for number, figure in enumerate(held)
        for s in suggest(seen, number)
    ]
    return {"figures": held, "spots": spots, "trouble": _trouble(seen)}


def view(user: User, document: Document, kind: str, amount: int, borders: bool, balanced: bool) -> bytes:
    """A way of seeing the reference, as JPEG. Raises InputError (`bad_view`, or what core.look.views raises)."""
    make = _WAYS.get(kind)
    if make is None:
        raise InputError("bad_view", f"There is no view “{kind[:40]}”.", f"Use {', '.join(_WAYS)}.", "kind")
    picture = _picture(user, document)
    key = (picture.digest, look_key(document), kind, amount, borders, balanced)

    def draw() -> bytes:
        balance = _balance(picture, document) if balanced else None
        small = small_of(picture.digest, LONGEST_SHOWN)
        out = io.BytesIO()
        pixels = make(small, lambda: study_of(picture, document), amount, borders, balance)
        Image.fromarray(pixels).save(out, "JPEG", quality=90, subsampling=0)
        return out.getvalue()

    return _views.get(key, draw)


_Way = Callable[[views.Small, Callable[[], Study], int, bool, Balance | None], NDArray[np.uint8]]


def _temperature(
    small: views.Small, seen: Callable[[], Study], _: int, __: bool, balance: Balance | None
) -> NDArray[np.uint8]:
    shown = seen()
    skins = [(shown.of(i), f.average) for i, f in enumerate(shown.figures) if f.average]
    rest = xyz_to_lab(views.light_of(shown.small).mean(axis=(0, 1), dtype=float))
    areas: list[tuple[NDArray[np.bool_] | None, Any]] = [(None, skins[0][1] if len(skins) == 1 else rest)]
    for mask, average in skins if len(skins) > 1 else []:
        areas.append((views.enlarged(mask.astype(np.uint8), small).astype(bool), average))
    if balance is not None:
        areas = [(area, xyz_to_lab(balance.apply(lab_to_xyz(average)))) for area, average in areas]
    return views.warm_and_cool(small, areas, balance)


_WAYS: dict[str, _Way] = {
    "as_it_is": lambda small, seen, amount, borders, balance: views.as_it_is(small, balance),
    "values": lambda small, seen, amount, borders, balance: views.values(small, amount, borders),
    "squint": lambda small, seen, amount, borders, balance: views.squint(small, amount, balance),
    "temperature": _temperature,
    "pushed": lambda small, seen, amount, borders, balance: views.pushed(small, amount, balance),
    "families": lambda small, seen, amount, borders, balance: views.families(
        small, views.enlarged(seen().owners, small), views.enlarged(seen().light.astype(np.uint8), small) > 0, balance
    ),
    "skin": lambda small, seen, amount, borders, balance: views.skin_alone(
        small, views.enlarged(seen().owners, small) > 0, balance
    ),
}
WAYS = tuple(_WAYS)


def transfer(user: User, document: Document, steps: int) -> dict[str, Any]:
    """Lines and spots in millimetres on the sheet, as far as the sheet shows them."""
    picture = _picture(user, document)
    place = placement(picture, document)
    assert place is not None
    lines = []
    for line in border_lines(study_of(picture, document), steps):
        points = [place.on_sheet(x, y) for x, y in line.points]
        lines.append({"kind": line.kind, "path": "M" + "L".join(f"{x:.2f} {y:.2f}" for x, y in points)})
    left, top, right, bottom = place.crop
    spots = []
    for number, spot in enumerate(document["spots"], start=1):
        if left <= spot["x"] <= right and top <= spot["y"] <= bottom:
            x, y = place.on_sheet(spot["x"], spot["y"])
            spots.append({"id": spot["id"], "number": number, "x_mm": round(x, 2), "y_mm": round(y, 2)})
    return {"placement": asdict(place), "lines": lines, "spots": spots}
