"""Plans in layers over HTTP; nothing is stored (what stores them is in server.pieces.piece)."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiExample, OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.limits import LIMITS
from core.plan.map_questions import SMALL
from server.api.requests import artist, number, one_of, picture_file
from server.api.values import answer, asked
from server.pieces.document.history import document_of, open_piece
from server.pieces.layers import maps, services
from server.pieces.layers.values import (
    AccentAt,
    AskMaps,
    Maps,
    OneFigure,
    OneLayer,
    OtherStick,
    SaidPlan,
    SaidPlans,
    TryPlans,
)


class PlansView(APIView):
    """Plans of one figure in every number of layers, to be looked at side by side."""

    @extend_schema(request=TryPlans, responses=SaidPlans)
    def post(self, request: Request, piece_id: UUID) -> Response:
        user, given = artist(request), asked(TryPlans, request)
        return answer(SaidPlans, services.tried(user, document_of(user, piece_id), given))


class FittedView(APIView):
    """The layers of a figure with how much of each lies where chosen anew."""

    @extend_schema(request=OneFigure, responses=SaidPlan)
    def post(self, request: Request, piece_id: UUID) -> Response:
        user, given = artist(request), asked(OneFigure, request)
        return answer(SaidPlan, services.fitted(user, document_of(user, piece_id), given.figure))


class MapsView(APIView):
    """Where and how hard every layer lies over the skin of the reference."""

    @extend_schema(request=AskMaps, responses=Maps)
    def post(self, request: Request, piece_id: UUID) -> Response:
        user, given = artist(request), asked(AskMaps, request)
        return answer(Maps, maps.made(user, open_piece(user, piece_id), given))


NAMES = OpenApiParameter("maps", str, many=True, description="As `maps` of each figure says.")
"""Of maps, in an address."""


class MappedPictureView(APIView):
    """The reference after so many of the layers, all by default, by the maps as they were made, as JPEG."""

    @extend_schema(
        parameters=[
            NAMES,
            OpenApiParameter("upto", int, default=LIMITS.layers),
            OpenApiParameter("size", int, enum=maps.SIZES, default=SMALL),
            OpenApiParameter("muted", int, enum=[0, 1], default=1),
            OpenApiParameter("values", int, enum=[0, 1], default=0),
        ],
        responses={(200, "image/*"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, piece_id: UUID) -> HttpResponse:
        user = artist(request)
        upto, size = number(request, "upto", LIMITS.layers), one_of(request, "size", maps.SIZES, SMALL)
        muted, in_values = bool(number(request, "muted", 1)), bool(number(request, "values", 0))
        picture = maps.picture(user, document_of(user, piece_id), request.query_params.getlist("maps"), upto)
        return picture_file(request, picture.key(size, muted, in_values), lambda: picture.drawn(size, muted, in_values))


class LayerMapView(APIView):
    """The map of one layer over a ghost of the reference, hatched the heavier the larger the dose, as WebP."""

    @extend_schema(
        parameters=[
            NAMES,
            OpenApiParameter("layer", str, required=True),
            OpenApiParameter("size", int, enum=maps.MAP_SIZES, default=maps.MAP_SIZES[1]),
        ],
        responses={(200, "image/*"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, piece_id: UUID) -> HttpResponse:
        user = artist(request)
        names, layer = request.query_params.getlist("maps"), request.query_params.get("layer", "")
        size = one_of(request, "size", maps.MAP_SIZES, maps.MAP_SIZES[1])
        key, draw = maps.map_of(user, document_of(user, piece_id), names, layer, size)
        return picture_file(request, key, draw, "image/webp")


class SketchView(APIView):
    """A figure with the colours that a plan gives at its spots, spread over its skin, as JPEG."""

    @extend_schema(
        parameters=[
            OpenApiParameter("figure", str, required=True, examples=[OpenApiExample("Example", "figure-1")]),
            OpenApiParameter("gives", str, many=True, description="A spot, a dot and six hex digits."),
        ],
        responses={(200, "image/*"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, piece_id: UUID) -> HttpResponse:
        user, rows = artist(request), request.query_params.getlist("gives")[: LIMITS.spots]
        gives = {spot: f"#{code}" for spot, _, code in (row.rpartition(".") for row in rows)}
        figure = request.query_params.get("figure", "")
        key, draw = maps.sketch(user, document_of(user, piece_id), figure, gives)
        return picture_file(request, key, draw)


class AccentView(APIView):
    """The layers of a figure with one more over one spot alone."""

    @extend_schema(request=AccentAt, responses=SaidPlan)
    def post(self, request: Request, piece_id: UUID) -> Response:
        user, given = artist(request), asked(AccentAt, request)
        return answer(SaidPlan, services.with_accent(user, document_of(user, piece_id), given.spot))


class OtherSticksView(APIView):
    """Other sticks for a layer, in the order of what they do to the whole face."""

    @extend_schema(request=OneLayer, responses={(200, "application/json"): list[OtherStick]})
    def post(self, request: Request, piece_id: UUID) -> Response:
        user, given = artist(request), asked(OneLayer, request)
        document = document_of(user, piece_id)
        return answer(list[OtherStick], services.other_sticks(user, document, given.figure, given.layer))
