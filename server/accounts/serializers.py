"""What comes in and goes out about accounts."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from server.api.schema import example


@example({"name": "ines", "password": "salt-wind-77"})
class SignInSerializer(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=150)
    password = serializers.CharField(max_length=200, trim_whitespace=False)


@example({"token": "Zm9yIHRoZSBleGFtcGxlIG9ubHksIG5ldmVyIG1hZGU"})
class LinkSerializer(serializers.Serializer[Any]):
    token = serializers.CharField(max_length=200)


@example({"password": "tar-and-oakum-8"})
class PasswordSerializer(serializers.Serializer[Any]):
    password = serializers.CharField(max_length=200, trim_whitespace=False)


class ArtistSerializer(serializers.Serializer[Any]):
    name = serializers.CharField(allow_null=True)


class SignedInSerializer(serializers.Serializer[Any]):
    """One browser in which the artist is signed in. device: what kind of machine it seems to be, or nothing."""

    id = serializers.CharField()
    began = serializers.DateTimeField(allow_null=True)
    device = serializers.CharField(allow_blank=True)
    here = serializers.BooleanField()
