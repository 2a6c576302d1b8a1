"""What surrounds the skin over HTTP; nothing is stored: regions and their ramps are parts of the document."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.surround.questions import WAYS
from server.api.requests import artist, one_of, picture_file
from server.api.values import answer
from server.pieces.around import services
from server.pieces.around.values import AroundShown
from server.pieces.document.history import document_of

SIZES = (480, 960)


class AroundView(APIView):
    """Hair, cloth and ground: their ramps, and what they do to the skin."""

    @extend_schema(responses=AroundShown)
    def get(self, request: Request, piece_id: UUID) -> Response:
        user = artist(request)
        return answer(AroundShown, services.around(user, document_of(user, piece_id)))


class AroundPictureView(APIView):
    """The picture, where its regions are, and the skin on bare paper and inside its surround, as JPEG."""

    @extend_schema(
        parameters=[
            OpenApiParameter("way", str, enum=WAYS, default=WAYS[0]),
            OpenApiParameter("size", int, enum=SIZES, default=SIZES[0]),
        ],
        responses={(200, "image/*"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, piece_id: UUID) -> HttpResponse:
        user = artist(request)
        way, size = one_of(request, "way", WAYS, WAYS[0]), one_of(request, "size", SIZES, SIZES[0])
        return picture_file(request, *services.picture(user, document_of(user, piece_id), way, size))
