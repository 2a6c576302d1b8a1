"""What comes in and goes out about pieces. Well-formedness only; what it means is decided by services."""

from __future__ import annotations

from contextlib import suppress
from typing import Any

from rest_framework import serializers

from core.bench import MAX_STICKS
from core.limits import LIMITS
from core.look.reading import MAX_RADIUS
from core.look.roles import PLACES, ROLES
from core.optics.medium import MAX_REPEATS
from core.recipe.finish import FINISHES
from core.recipe.reach import FITS
from server.api.schema import EXAMPLE_IDS, EXAMPLE_VERSION, example
from server.materials.serializers import SwatchSerializer
from server.pieces.serializers import look
from server.pieces.serializers.look import identifier
from server.pieces.services.history import empty_document
from server.pieces.services.migrate import SCHEMA, Document, migrate

EXAMPLE_PASS = {"stick": "G01", "pressure": "light", "repeats": 2, "technique": "lay", "locked": False}


def example_document() -> Document:
    """A small document as it is sent: one spot with a recipe of one pass."""
    spot = {
        "id": "spot-1", "figure": "figure-1", "name": "cheek", "place": "cheek", "role": "middle",
        "x": 0.5, "y": 0.5, "radius": 0.05, "outline": None, "locked": False,
        "recipe": {"passes": [dict(EXAMPLE_PASS)]},
    }  # fmt: skip
    return empty_document() | {"tray": EXAMPLE_IDS["tray_id"], "picture": EXAMPLE_IDS["picture_id"], "spots": [spot]}


class SetupSerializer(look.Strict):
    medium = serializers.CharField(max_length=40)
    paper = serializers.CharField(max_length=40)
    method = serializers.CharField(max_length=40)
    black = serializers.CharField(max_length=40)
    max_sticks = serializers.IntegerField(min_value=0, max_value=200)
    max_passes = serializers.IntegerField(min_value=1, max_value=4)
    fit = serializers.ChoiceField(FITS)
    kept = serializers.ListField(child=serializers.CharField(max_length=80), max_length=MAX_STICKS)
    banned = serializers.ListField(child=serializers.CharField(max_length=80), max_length=MAX_STICKS)
    one_shadow = serializers.BooleanField()
    finish = serializers.ChoiceField(tuple(FINISHES))
    reserve = serializers.BooleanField()


class FigureSerializer(look.Strict):
    id = identifier()
    name = serializers.CharField(max_length=LIMITS.name)
    face = look.FaceSerializer(allow_null=True)
    strokes = look.StrokeSerializer(many=True, max_length=LIMITS.strokes)


class PassSerializer(look.Strict):
    id = serializers.RegexField(r"^[A-Za-z0-9-]{1,40}$", required=False)
    stick = serializers.CharField(max_length=80)
    pressure = serializers.CharField(max_length=20)
    repeats = serializers.IntegerField(min_value=1, max_value=MAX_REPEATS)
    technique = serializers.CharField(max_length=20)
    locked = serializers.BooleanField(default=False)


class StoredPassSerializer(PassSerializer):
    id = serializers.CharField()


class CautionSerializer(serializers.Serializer[Any]):
    code = serializers.CharField()
    text = serializers.CharField()


class StepSerializer(serializers.Serializer[Any]):
    after = SwatchSerializer()
    room = serializers.FloatField()
    effect = serializers.CharField()


class OutcomeSerializer(serializers.Serializer[Any]):
    """What a recipe gives; with `trouble` set, that sentence is all there is."""

    trouble = serializers.CharField(allow_blank=True)
    why = serializers.CharField(required=False)
    target = SwatchSerializer(required=False)
    paper = SwatchSerializer(required=False)
    result = SwatchSerializer(required=False)
    steps = StepSerializer(many=True, required=False)
    delta_e = serializers.FloatField(required=False)
    delta_v = serializers.FloatField(required=False)
    tolerance = serializers.FloatField(required=False)
    cautions = CautionSerializer(many=True, required=False)
    grain = serializers.ListField(
        child=serializers.CharField(),
        required=False,
        help_text="Colours of equal parts of the surface, from the valleys of the paper's tooth to its peaks.",
    )


class ReadingSerializer(serializers.Serializer[Any]):
    swatch = SwatchSerializer()
    spread = serializers.FloatField()
    pixels = serializers.IntegerField()
    straddles = serializers.BooleanField()


class TemperatureSerializer(serializers.Serializer[Any]):
    degrees = serializers.FloatField()
    words = serializers.CharField()


class RecipeInSerializer(look.Strict):
    passes = PassSerializer(many=True, max_length=LIMITS.passes)


class RecipeSerializer(serializers.Serializer[Any]):
    passes = StoredPassSerializer(many=True)
    outcome = OutcomeSerializer()


class SpotInSerializer(look.Strict):
    id = identifier()
    figure = identifier()
    name = serializers.CharField(max_length=LIMITS.name)
    place = serializers.ChoiceField(PLACES)
    role = serializers.ChoiceField(ROLES)
    x = serializers.FloatField(min_value=0, max_value=1)
    y = serializers.FloatField(min_value=0, max_value=1)
    radius = serializers.FloatField(min_value=0.0005, max_value=MAX_RADIUS)
    outline = look.OutlineField(allow_null=True)
    recipe = RecipeInSerializer(allow_null=True)
    locked = serializers.BooleanField(default=False)


class SpotSerializer(SpotInSerializer):
    reading = ReadingSerializer(allow_null=True)
    temperature = TemperatureSerializer(allow_null=True)
    beyond = serializers.CharField(allow_blank=True)
    recipe = RecipeSerializer(allow_null=True)


class SurroundingSerializer(look.PlaceOnPictureSerializer):
    """A place on the reference that neighbours the skin, such as hair or cloth."""

    id = identifier()
    name = serializers.CharField(max_length=LIMITS.name)


class WorkSerializer(look.Strict):
    """Both keyed by the id of a pass."""

    done = serializers.DictField(child=serializers.ChoiceField(["done", "skipped"]))
    notes = serializers.DictField(child=serializers.CharField(max_length=LIMITS.note, allow_blank=True))

    def validate(self, attrs: dict[str, Any]) -> dict[str, Any]:
        if any(len(rows) > LIMITS.spots * LIMITS.passes for rows in attrs.values()):
            raise serializers.ValidationError("There are more ticks or notes than a piece can have steps.")
        return attrs


class DocumentInSerializer(look.Strict):
    schema = serializers.IntegerField(min_value=SCHEMA, max_value=SCHEMA)
    setup = SetupSerializer()
    tray = serializers.UUIDField(allow_null=True)
    picture = serializers.UUIDField(allow_null=True)
    balance = look.PlaceOnPictureSerializer(allow_null=True)
    light = look.LightSerializer(allow_null=True)
    sheet = look.SheetSizeSerializer()
    grid = look.GridSerializer(allow_null=True)
    cross = look.CrossSerializer(allow_null=True)
    marks = look.MarkSerializer(many=True, max_length=LIMITS.marks)
    unit = serializers.CharField(max_length=40, allow_null=True)
    figures = FigureSerializer(many=True, min_length=1, max_length=LIMITS.figures)
    spots = SpotInSerializer(many=True, max_length=LIMITS.spots)
    surroundings = SurroundingSerializer(many=True, max_length=LIMITS.surroundings)
    work = WorkSerializer()

    def to_internal_value(self, data: Any) -> Any:
        """A page that was open while the server was brought up to date, and a draft it kept, speak an older schema."""
        # What is no document of any version stays as it is: what is wrong with it is said below.
        with suppress(KeyError, TypeError, ValueError, AttributeError):
            data = migrate(data)
        return super().to_internal_value(data)

    def validate(self, attrs: dict[str, Any]) -> dict[str, Any]:
        figures = [figure["id"] for figure in attrs["figures"]]
        spots = [spot["id"] for spot in attrs["spots"]]
        if len(set(figures)) < len(figures) or len(set(spots)) < len(spots):
            raise serializers.ValidationError("Two figures or two spots have the same id.")
        marks = [mark["id"] for mark in attrs["marks"]]
        if len(set(marks)) < len(marks) or not {attrs["unit"]} <= {None, *marks}:
            raise serializers.ValidationError("Two measures have the same id, or the unit is not one of them.")
        if not {spot["figure"] for spot in attrs["spots"]} <= set(figures):
            raise serializers.ValidationError("A spot belongs to a figure that is not there.")
        for key in ("tray", "picture"):
            attrs[key] = str(attrs[key]) if attrs[key] else None
        return attrs


class DocumentSerializer(DocumentInSerializer):
    spots = SpotSerializer(many=True)


class ReachSerializer(serializers.Serializer[Any]):
    darkest = serializers.FloatField()
    lightest = serializers.FloatField()


class PictureSerializer(serializers.Serializer[Any]):
    id = serializers.UUIDField()
    width = serializers.IntegerField()
    height = serializers.IntegerField()
    profile = serializers.CharField()


class PieceSerializer(serializers.Serializer[Any]):
    id = serializers.UUIDField()
    title = serializers.CharField()
    version = serializers.IntegerField()
    changed = serializers.DateTimeField()
    can_undo = serializers.BooleanField()
    can_redo = serializers.BooleanField()
    document = DocumentSerializer()
    troubles = serializers.ListField(
        child=serializers.CharField(),
        help_text="What the stored piece holds wrongly, and what cannot be worked out: a sentence each.",
    )
    picture = PictureSerializer(allow_null=True)
    reach = ReachSerializer(allow_null=True)
    look_key = serializers.CharField()
    placement = look.PlacementSerializer(allow_null=True)
    measured = look.MeasuredSerializer(many=True)


class PieceRowSerializer(serializers.Serializer[Any]):
    id = serializers.UUIDField()
    title = serializers.CharField()
    changed = serializers.DateTimeField()
    picture = serializers.UUIDField(allow_null=True)
    figures = serializers.ListField(child=serializers.CharField())
    spots = serializers.IntegerField()
    steps = serializers.IntegerField()
    done = serializers.IntegerField()


@example({"title": "Lamp trimmer"})
class NewPieceSerializer(serializers.Serializer[Any]):
    title = serializers.CharField(max_length=LIMITS.title)


@example({"version": EXAMPLE_VERSION, "title": "Lamp trimmer", "document": example_document()})
class WritePieceSerializer(look.Strict):
    version = serializers.IntegerField(min_value=1)
    title = serializers.CharField(max_length=LIMITS.title)
    document = DocumentInSerializer()


@example({"version": EXAMPLE_VERSION})
class VersionSerializer(serializers.Serializer[Any]):
    version = serializers.IntegerField(min_value=1)


@example({"version": EXAMPLE_VERSION, "spots": []})
class SolveSerializer(VersionSerializer):
    spots = serializers.ListField(child=serializers.CharField(max_length=40), max_length=LIMITS.spots)


@example({"spots": ["spot-1"]})
class SpotsSerializer(serializers.Serializer[Any]):
    spots = serializers.ListField(child=serializers.CharField(max_length=40), max_length=LIMITS.spots)


@example({"target": [62.0, 14.0, 18.0], "role": "middle", "passes": [EXAMPLE_PASS]})
class PredictSerializer(serializers.Serializer[Any]):
    target = serializers.ListField(
        child=serializers.FloatField(min_value=-200, max_value=200), min_length=3, max_length=3
    )
    role = serializers.ChoiceField(ROLES)
    passes = PassSerializer(many=True, max_length=LIMITS.passes)


class UploadSerializer(serializers.Serializer[Any]):
    file = serializers.FileField(allow_empty_file=True)


class JobSerializer(serializers.Serializer[Any]):
    spot = serializers.CharField()
    pass_id = serializers.CharField()
    index = serializers.IntegerField()
    stick = serializers.CharField()
    pressure = serializers.CharField()
    repeats = serializers.IntegerField()
    technique = serializers.CharField()
    manner = serializers.CharField()


class PickUpSerializer(serializers.Serializer[Any]):
    stick = serializers.CharField()
    stage = serializers.IntegerField()
    jobs = JobSerializer(many=True)


class SheetSerializer(serializers.Serializer[Any]):
    pick_ups = PickUpSerializer(many=True)
    fewest = serializers.IntegerField()
    cautions = serializers.ListField(child=serializers.CharField())
