"""Pictures over HTTP."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.throttling import ScopedRateThrottle
from rest_framework.views import APIView

from core.colour.swatch import Swatch
from core.look.picture import MAX_BYTES
from server.api.requests import artist, fraction, jpeg, one_of, valid
from server.api.values import answer, asked
from server.pictures import services
from server.pictures.services import LONGEST_SHOWN, SIZES
from server.pictures.values import Patch, Picture


class UploadSerializer(serializers.Serializer[Any]):
    file = serializers.FileField(allow_empty_file=True)


class PicturesView(APIView):
    """Putting a picture in."""

    parser_classes = [MultiPartParser]
    throttle_classes = [ScopedRateThrottle]
    throttle_scope = "upload"

    @extend_schema(request=UploadSerializer, responses={201: Picture})
    def post(self, request: Request) -> Response:
        file = valid(UploadSerializer, request)["file"]
        kept = services.store_picture(artist(request), file.read(MAX_BYTES + 1))
        return answer(Picture, Picture(kept.pk, kept.width, kept.height, kept.profile), 201)


class PictureView(APIView):
    """A picture as it is, as JPEG."""

    @extend_schema(
        parameters=[OpenApiParameter("size", int, enum=SIZES, default=LONGEST_SHOWN)],
        responses={(200, "image/*"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, picture_id: UUID) -> HttpResponse:
        picture = services.get_picture(artist(request), picture_id)
        size = one_of(request, "size", SIZES, LONGEST_SHOWN)
        return jpeg(request, f"{picture.digest}-{size}", lambda: services.shown(picture, size))


class NearView(APIView):
    """A square piece of a picture from near, as JPEG."""

    @extend_schema(
        parameters=[
            OpenApiParameter("x", float, default=0.5),
            OpenApiParameter("y", float, default=0.5),
            OpenApiParameter("part", float, default=0.2),
        ],
        responses={(200, "image/*"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, picture_id: UUID) -> HttpResponse:
        picture = services.get_picture(artist(request), picture_id)
        x, y = (fraction(request, name, 0.5) for name in ("x", "y"))
        part = max(0.001, fraction(request, "part", 0.2))
        return jpeg(request, f"{picture.digest}-{x}-{y}-{part}", lambda: services.near(picture, x, y, part))


class PatchView(APIView):
    """A paper on a photograph, read beside a white sheet; nothing is stored."""

    @extend_schema(request=Patch, responses=Swatch)
    def post(self, request: Request, picture_id: UUID) -> Response:
        given = asked(Patch, request)
        return answer(Swatch, services.patch(artist(request), picture_id, given.paper, given.white))
