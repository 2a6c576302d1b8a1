"""What goes in and out around the recipes. Well-formedness only."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from server.api.schema import example
from server.materials.serializers import SwatchSerializer
from server.pieces.serializers.document import OutcomeSerializer, PassSerializer, StoredPassSerializer


@example({"spot": "spot-1"})
class SpotIdSerializer(serializers.Serializer[Any]):
    spot = serializers.CharField(max_length=40)


@example({"code": "G01"})
class StickCodeSerializer(serializers.Serializer[Any]):
    code = serializers.CharField(max_length=80)


class PreparedSerializer(serializers.Serializer[Any]):
    done = serializers.IntegerField()


class TriedRecipeSerializer(serializers.Serializer[Any]):
    passes = StoredPassSerializer(many=True)
    outcome = OutcomeSerializer()


class AnswerSerializer(TriedRecipeSerializer):
    kind = serializers.CharField()


class DepartureSerializer(serializers.Serializer[Any]):
    part = serializers.CharField()
    spot = serializers.CharField()
    words = serializers.CharField()
    adds = serializers.ListField(child=serializers.CharField())
    drops = serializers.ListField(child=serializers.CharField())


class UndertoneSerializer(serializers.Serializer[Any]):
    spot = serializers.CharField()
    place = serializers.CharField()
    role = serializers.CharField()
    stick = serializers.CharField()
    hue = serializers.CharField()


class RungSerializer(serializers.Serializer[Any]):
    stick = serializers.CharField()
    name = serializers.CharField()
    swatch = SwatchSerializer()
    grain = serializers.ListField(child=serializers.CharField())


class BridgeSerializer(serializers.Serializer[Any]):
    passes = PassSerializer(many=True)
    swatch = SwatchSerializer()
    words = serializers.CharField()


class GapSerializer(serializers.Serializer[Any]):
    """value in Munsell steps; words are empty where the neighbours blend."""

    value = serializers.FloatField()
    hue_deg = serializers.FloatField()
    chroma = serializers.FloatField()
    words = serializers.CharField(allow_blank=True)
    bridge = BridgeSerializer(allow_null=True)


class CalmingSerializer(serializers.Serializer[Any]):
    stick = serializers.CharField()
    complement = serializers.CharField()
    before = serializers.FloatField()
    after = serializers.FloatField()
    words = serializers.CharField()


class RampSerializer(serializers.Serializer[Any]):
    rungs = RungSerializer(many=True)
    gaps = GapSerializer(many=True)
    calmings = CalmingSerializer(many=True)


class FigurePlanSerializer(serializers.Serializer[Any]):
    id = serializers.CharField()
    base = serializers.CharField(allow_blank=True)
    departures = DepartureSerializer(many=True)
    undertones = UndertoneSerializer(many=True)
    sticks = serializers.ListField(child=serializers.CharField())
    ramp = RampSerializer()


class FiguresSerializer(serializers.Serializer[Any]):
    figures = FigurePlanSerializer(many=True)
    stages = serializers.ListField(child=serializers.ListField(child=serializers.CharField()))


@example({"size": 4})
class PaletteInSerializer(serializers.Serializer[Any]):
    """Either how many sticks, or how much farther off a colour may be than with the whole tray."""

    size = serializers.IntegerField(min_value=1, max_value=200, required=False)
    within = serializers.FloatField(min_value=0.1, max_value=10, required=False)

    def validate(self, attrs: dict[str, Any]) -> dict[str, Any]:
        if ("size" in attrs) == ("within" in attrs):
            raise serializers.ValidationError("Say either how many sticks, or how far off they may be.")
        return attrs


class PaletteStickSerializer(serializers.Serializer[Any]):
    code = serializers.CharField()
    loss = serializers.FloatField()


class BuySerializer(serializers.Serializer[Any]):
    code = serializers.CharField()
    name = serializers.CharField()
    range = serializers.CharField()
    gain = serializers.FloatField()
    swatch = SwatchSerializer()


class PaletteSerializer(serializers.Serializer[Any]):
    sticks = PaletteStickSerializer(many=True)
    mean = serializers.FloatField()
    mean_of_all = serializers.FloatField()
    buy = BuySerializer(many=True)


class NeighbourSerializer(serializers.Serializer[Any]):
    id = serializers.CharField()
    name = serializers.CharField()
    swatch = SwatchSerializer()
    own = SwatchSerializer()
    words = serializers.CharField()
