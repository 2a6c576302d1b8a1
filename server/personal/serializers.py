"""What comes in and goes out about an artist as a whole."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from server.api.schema import example


class SpaceSerializer(serializers.Serializer[Any]):
    """used, most: bytes that the artist's pictures take, and may take."""

    pictures = serializers.IntegerField()
    used = serializers.IntegerField()
    most = serializers.IntegerField()


@example({"name": "ines"})
class FarewellSerializer(serializers.Serializer[Any]):
    """name: of the account, typed by hand."""

    name = serializers.CharField(max_length=150)
