"""Pictures over HTTP."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.throttling import ScopedRateThrottle
from rest_framework.views import APIView

from core.colour.swatch import Swatch
from core.errors import InputError
from core.look.picture import MAX_BYTES
from server.api.requests import UploadSerializer, artist, fraction, one_of, picture_file, uploaded
from server.api.values import answer, asked
from server.pictures import services
from server.pictures.services import LONGEST_SHOWN, SIZES
from server.pictures.values import AskSheet, Patch, Picture, SeenSheet

_WHOLE = "0,0,1,0,1,1,0,1"


class PicturesView(APIView):
    """Putting a picture in."""

    parser_classes = [MultiPartParser]
    throttle_classes = [ScopedRateThrottle]
    throttle_scope = "upload"

    @extend_schema(request=UploadSerializer, responses={201: Picture})
    def post(self, request: Request) -> Response:
        kept = services.store_picture(artist(request), uploaded(request, MAX_BYTES))
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
        return picture_file(request, f"{picture.digest}-{size}", lambda: services.shown(picture, size))


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
        return picture_file(request, f"{picture.digest}-{x}-{y}-{part}", lambda: services.near(picture, x, y, part))


class PatchView(APIView):
    """A paper on a photograph, read beside a white sheet; nothing is stored."""

    @extend_schema(request=Patch, responses=Swatch)
    def post(self, request: Request, picture_id: UUID) -> Response:
        given = asked(Patch, request)
        return answer(Swatch, services.patch(artist(request), picture_id, given.paper, given.white))


class SheetView(APIView):
    """A sheet with swatches in a photograph, read; nothing is stored."""

    @extend_schema(request=AskSheet, responses=SeenSheet)
    def post(self, request: Request, picture_id: UUID) -> Response:
        return answer(SeenSheet, services.sheet(artist(request), picture_id, asked(AskSheet, request)))


class SquaredView(APIView):
    """A sheet in a photograph, squared up, as JPEG."""

    @extend_schema(
        parameters=[OpenApiParameter("corners", str, default=_WHOLE, description="x, y of each, clockwise.")],
        responses={(200, "image/*"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, picture_id: UUID) -> HttpResponse:
        picture = services.get_picture(artist(request), picture_id)
        corners = _corners(request.query_params.get("corners", _WHOLE))
        return picture_file(request, f"{picture.digest}-{corners}", lambda: services.squared(picture, corners))


def _corners(text: str) -> list[tuple[float, float]]:
    """Raises InputError (`bad_corners`)."""
    try:
        at = [float(part) for part in text.split(",")]
    except ValueError:
        at = []
    if len(at) != 8 or not all(-1 <= part <= 2 for part in at):
        raise InputError("bad_corners", "These are no four corners.", "Give x and y of each, in parts.", "corners")
    return list(zip(at[::2], at[1::2], strict=True))
