"""What comes in and goes out about materials."""

from __future__ import annotations

import dataclasses
from typing import Any

from rest_framework import serializers

from core.colour.swatch import Swatch
from core.limits import Limits
from core.optics.media import layers_to_expect
from server.api.schema import example


class SwatchSerializer(serializers.Serializer[Any]):
    lab = serializers.ListField(child=serializers.FloatField(), min_length=3, max_length=3)
    value = serializers.FloatField()
    chroma = serializers.FloatField()
    hue_deg = serializers.FloatField()
    hex = serializers.CharField()
    words = serializers.CharField()


class StickSerializer(serializers.Serializer[Any]):
    code = serializers.CharField()
    name = serializers.CharField()
    medium = serializers.CharField()
    hex = serializers.CharField()
    opacity = serializers.CharField()
    range = serializers.CharField()
    condition = serializers.CharField()
    lightfastness = serializers.CharField()
    swatch = serializers.SerializerMethodField()

    def get_swatch(self, stick: Any) -> SwatchSerializer:
        from_hex = Swatch.of_hex(stick.hex)
        return SwatchSerializer(from_hex).data  # type: ignore[return-value]  # the annotation is for the schema


class TraySerializer(serializers.Serializer[Any]):
    id = serializers.UUIDField()
    name = serializers.CharField()
    sticks = StickSerializer(many=True)


@example({"name": "My pencils", "csv": "code,name,medium,hex,opacity\n1,burnt sienna,pencil,#8a4b2f,semi\n"})
class NewTraySerializer(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=80)
    csv = serializers.CharField(max_length=1_000_000, required=False, trim_whitespace=False, allow_blank=True)
    range = serializers.CharField(max_length=80, required=False)

    def validate(self, attrs: dict[str, Any]) -> dict[str, Any]:
        if ("csv" in attrs) == ("range" in attrs):
            raise serializers.ValidationError("Give either a CSV text or the id of a range.")
        return attrs


@example({"range": "lantern-16"})
class AddRangeSerializer(serializers.Serializer[Any]):
    range = serializers.CharField(max_length=80)


@example({"code": "G01", "condition": "low"})
class ConditionSerializer(serializers.Serializer[Any]):
    code = serializers.CharField(max_length=80)
    condition = serializers.CharField(max_length=20)


class RangeSerializer(serializers.Serializer[Any]):
    id = serializers.CharField()
    name = serializers.CharField()
    size = serializers.IntegerField()


class PaperSerializer(serializers.Serializer[Any]):
    id = serializers.CharField()
    name = serializers.CharField()
    note = serializers.CharField()
    swatch = serializers.SerializerMethodField()
    tooth = serializers.FloatField()
    coats = serializers.FloatField()
    media = serializers.ListField(child=serializers.CharField())
    layers = serializers.SerializerMethodField(help_text="How many full passes or coats it takes, by medium.")

    def get_layers(self, paper: Any) -> dict[str, int]:
        return {medium: layers_to_expect(medium, paper) for medium in paper.media}

    def get_swatch(self, paper: Any) -> SwatchSerializer:
        return SwatchSerializer(Swatch.of(paper.lab)).data  # type: ignore[return-value]  # the annotation is for the schema


@example({"name": "Rough cream", "lab": [94.0, 0.5, 6.0], "tooth": 0.6, "coats": 5.0, "media": ["pencil", "pastel"]})
class NewPaperSerializer(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=60)
    lab = serializers.ListField(child=serializers.FloatField(), min_length=3, max_length=3)
    tooth = serializers.FloatField()
    coats = serializers.FloatField()
    media = serializers.ListField(child=serializers.CharField(max_length=20), max_length=10)


class ToolSerializer(serializers.Serializer[Any]):
    """Something without pigment; its code stands where a stick's would."""

    code = serializers.CharField()
    name = serializers.CharField()
    techniques = serializers.ListField(child=serializers.CharField())


class MediumSerializer(serializers.Serializer[Any]):
    """word: what one stick of it is called; lies: film, ink, crumbs, paste or body; over: media it can be laid over."""

    id = serializers.CharField()
    name = serializers.CharField()
    word = serializers.CharField()
    techniques = serializers.ListField(child=serializers.CharField())
    pressures = serializers.ListField(child=serializers.CharField())
    tools = ToolSerializer(many=True)
    lies = serializers.CharField()
    over = serializers.ListField(child=serializers.CharField())
    usual_paper = serializers.CharField()
    usual_method = serializers.CharField()


class FinishSerializer(serializers.Serializer[Any]):
    id = serializers.CharField()
    words = serializers.CharField()


class MethodSerializer(serializers.Serializer[Any]):
    """reserve: whether highlights are kept free to begin with. finishes: how recipes may end, the usual one first."""

    id = serializers.CharField()
    name = serializers.CharField()
    medium = serializers.CharField()
    explanation = serializers.CharField()
    reserve = serializers.BooleanField()
    finishes = FinishSerializer(many=True)


class PaperSizeSerializer(serializers.Serializer[Any]):
    name = serializers.CharField()
    width_mm = serializers.FloatField()
    height_mm = serializers.FloatField()


class LimitsSerializer(serializers.Serializer[Any]):
    """How much of everything a piece may hold; title, name and note in characters."""

    def get_fields(self) -> dict[str, serializers.Field[Any, Any, Any, Any]]:
        return {field.name: serializers.IntegerField() for field in dataclasses.fields(Limits)}


class MaterialsSerializer(serializers.Serializer[Any]):
    """Everything to choose from."""

    ranges = RangeSerializer(many=True)
    papers = PaperSerializer(many=True)
    methods = MethodSerializer(many=True)
    media = MediumSerializer(many=True)
    roles = serializers.ListField(child=serializers.CharField())
    places = serializers.ListField(child=serializers.CharField())
    black_policies = serializers.ListField(child=serializers.CharField())
    value_greys = serializers.ListField(child=serializers.CharField())
    sheets = PaperSizeSerializer(many=True)
    squints = serializers.IntegerField()
    pushes = serializers.ListField(child=serializers.FloatField())
    repeats = serializers.ListField(child=serializers.IntegerField())
    limits = LimitsSerializer()
