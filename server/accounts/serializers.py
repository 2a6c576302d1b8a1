"""What comes in and goes out about accounts."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers


class SignInSerializer(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=150)
    password = serializers.CharField(max_length=200, trim_whitespace=False)


class PasswordSerializer(serializers.Serializer[Any]):
    password = serializers.CharField(max_length=200, trim_whitespace=False)


class ArtistSerializer(serializers.Serializer[Any]):
    name = serializers.CharField(allow_null=True)
