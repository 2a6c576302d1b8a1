"""What comes in and goes out about looking at a reference. Well-formedness only; core decides what it means."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from core.limits import LIMITS
from core.look.measuring import FITS, MARKS
from core.look.reading import MAX_RADIUS
from core.look.roles import PLACES, ROLES
from server.api.schema import example
from server.materials.serializers import SwatchSerializer

LONGEST_MM = 5000


class Strict(serializers.Serializer[Any]):
    """A part of a document: refuses keys that it does not know, with their path, instead of losing what they hold."""

    def to_internal_value(self, data: Any) -> Any:
        if isinstance(data, dict):
            unknown = sorted(str(key) for key in data.keys() - self.fields.keys())
            if unknown:
                raise serializers.ValidationError({key: ["There is no such field."] for key in unknown[:10]})
        return super().to_internal_value(data)


def identifier() -> serializers.RegexField:
    """An id that the browser made up."""
    return serializers.RegexField(r"^[A-Za-z0-9-]{1,40}$")


def fraction() -> serializers.FloatField:
    """A part of the picture's width or height."""
    return serializers.FloatField(min_value=0, max_value=1)


def point() -> serializers.ListField:
    """x and y as fractions."""
    return serializers.ListField(child=fraction(), min_length=2, max_length=2)


class PlaceOnPictureSerializer(Strict):
    x = fraction()
    y = fraction()
    radius = serializers.FloatField(min_value=0.0005, max_value=MAX_RADIUS)


@example({"paper": {"x": 0.7, "y": 0.5, "radius": 0.1}, "white": {"x": 0.2, "y": 0.5, "radius": 0.1}})
class PatchSerializer(serializers.Serializer[Any]):
    paper = PlaceOnPictureSerializer()
    white = PlaceOnPictureSerializer()


class FaceSerializer(Strict):
    x = serializers.FloatField(min_value=-1, max_value=2)
    y = serializers.FloatField(min_value=-1, max_value=2)
    width = serializers.FloatField(min_value=0.005, max_value=2)
    height = serializers.FloatField(min_value=0.005, max_value=2)


class StrokeSerializer(Strict):
    add = serializers.BooleanField()
    radius = serializers.FloatField(min_value=0.001, max_value=0.2)
    points = serializers.ListField(child=point(), min_length=1, max_length=LIMITS.stroke_points)


class LightSerializer(Strict):
    from_deg = serializers.FloatField(min_value=0, max_value=360)


class SheetSizeSerializer(Strict):
    width_mm = serializers.FloatField(min_value=0, max_value=LONGEST_MM)
    height_mm = serializers.FloatField(min_value=0, max_value=LONGEST_MM)
    margin_mm = serializers.FloatField(min_value=0, max_value=LONGEST_MM)
    fit = serializers.ChoiceField(FITS)
    shift_x = fraction()
    shift_y = fraction()


class GridSerializer(Strict):
    columns = serializers.IntegerField(min_value=1, max_value=40)
    rows = serializers.IntegerField(min_value=1, max_value=40)
    diagonals = serializers.BooleanField()


class CrossSerializer(Strict):
    x = fraction()
    y = fraction()


class MarkSerializer(Strict):
    id = identifier()
    kind = serializers.ChoiceField(MARKS)
    x1 = fraction()
    y1 = fraction()
    x2 = fraction()
    y2 = fraction()


class MeasuredSerializer(serializers.Serializer[Any]):
    id = serializers.CharField()
    pixels = serializers.FloatField()
    mm = serializers.FloatField()
    ratio = serializers.FloatField(allow_null=True)
    angle_deg = serializers.FloatField()
    off_deg = serializers.FloatField(allow_null=True)


@example({"mark": {"id": "mark-1", "kind": "caliper", "x1": 0.1, "y1": 0.2, "x2": 0.4, "y2": 0.2}})
class MeasureSerializer(serializers.Serializer[Any]):
    mark = MarkSerializer()


class PlacementSerializer(serializers.Serializer[Any]):
    left_mm = serializers.FloatField()
    top_mm = serializers.FloatField()
    width_mm = serializers.FloatField()
    height_mm = serializers.FloatField()
    crop = serializers.ListField(child=serializers.FloatField(), min_length=4, max_length=4)
    mm_per_pixel = serializers.FloatField()


class OutlineField(serializers.ListField):
    """Corners of an outlined spot."""

    child = point()

    def __init__(self, **options: Any) -> None:
        super().__init__(min_length=3, max_length=LIMITS.corners, **options)


class ComplexionSerializer(serializers.Serializer[Any]):
    ita_deg = serializers.FloatField()
    depth = serializers.CharField()
    hue_off_deg = serializers.FloatField()
    undertone = serializers.CharField()


class FigureStudySerializer(serializers.Serializer[Any]):
    id = serializers.CharField()
    found = serializers.BooleanField()
    certain = serializers.BooleanField()
    lightest = serializers.FloatField(allow_null=True)
    darkest = serializers.FloatField(allow_null=True)
    border = serializers.FloatField(allow_null=True)
    average = SwatchSerializer(allow_null=True)
    complexion = ComplexionSerializer(allow_null=True)


class SpotStudySerializer(serializers.Serializer[Any]):
    """family: `light`, `shadow` or nothing. note: what usually holds there. doubt: a gentle contradiction."""

    id = serializers.CharField()
    family = serializers.CharField(allow_blank=True)
    note = serializers.CharField(allow_blank=True)
    doubt = serializers.CharField(allow_blank=True)
    balanced = SwatchSerializer(allow_null=True)


class StudySerializer(serializers.Serializer[Any]):
    """What the reference shows. trouble: a sentence where there is no skin or no colour; empty otherwise."""

    figures = FigureStudySerializer(many=True)
    spots = SpotStudySerializer(many=True)
    colourless = serializers.BooleanField()
    trouble = serializers.CharField(allow_blank=True)
    light_from_deg = serializers.FloatField(allow_null=True)


class SuggestedFigureSerializer(serializers.Serializer[Any]):
    id = serializers.CharField()
    name = serializers.CharField()
    face = FaceSerializer(allow_null=True)
    is_new = serializers.BooleanField()


class SuggestedSpotSerializer(serializers.Serializer[Any]):
    figure = serializers.CharField()
    place = serializers.ChoiceField(PLACES)
    role = serializers.ChoiceField(ROLES)
    x = serializers.FloatField()
    y = serializers.FloatField()
    radius = serializers.FloatField()
    swatch = SwatchSerializer()


class SuggestionSerializer(serializers.Serializer[Any]):
    """A proposal; nothing of it is stored."""

    figures = SuggestedFigureSerializer(many=True)
    spots = SuggestedSpotSerializer(many=True)
    trouble = serializers.CharField(allow_blank=True)


class TransferLineSerializer(serializers.Serializer[Any]):
    """path: an SVG path in millimetres on the sheet."""

    kind = serializers.CharField()
    path = serializers.CharField()


class TransferSpotSerializer(serializers.Serializer[Any]):
    id = serializers.CharField()
    number = serializers.IntegerField()
    x_mm = serializers.FloatField()
    y_mm = serializers.FloatField()


class TransferSerializer(serializers.Serializer[Any]):
    """Everything on the transfer page, in millimetres on the sheet."""

    placement = PlacementSerializer()
    lines = TransferLineSerializer(many=True)
    spots = TransferSpotSerializer(many=True)
