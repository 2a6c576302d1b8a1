"""Comparisons of the drawing over HTTP."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.compare.questions import SIZES, WAYS
from core.plan.hatch import LONGEST
from server.api.requests import KIND, SHEETS, artist, kind_of, one_of, picture_file, sheet_file
from server.api.values import answer, asked
from server.pieces.comparing import file, pictured, services, shown
from server.pieces.comparing.values import (
    SIDES,
    AskComparison,
    ChangeComparison,
    Compared,
    Comparisons,
    SaidAdvice,
    TaughtBy,
    Teach,
)
from server.pieces.document.history import drawn_of

_KINDS = ("map", "then")
_MAP_SIZES = (LONGEST // 3, LONGEST)


class ComparisonsView(APIView):
    """Photographs of the drawing."""

    @extend_schema(responses=Comparisons)
    def get(self, request: Request, piece_id: UUID) -> Response:
        return answer(Comparisons, services.all_of(artist(request), piece_id))

    @extend_schema(request=AskComparison, responses={201: Compared})
    def post(self, request: Request, piece_id: UUID) -> Response:
        """Reads one and judges it."""
        user = artist(request)
        made = services.make(user, piece_id, asked(AskComparison, request))
        return answer(Compared, shown.shown(made, drawn_of(user, piece_id)), 201)


class ComparisonView(APIView):
    """A photograph of the drawing, judged."""

    @extend_schema(responses=Compared)
    def get(self, request: Request, comparison_id: UUID) -> Response:
        user = artist(request)
        row = services.get(user, comparison_id)
        return answer(Compared, shown.shown(row, drawn_of(user, row.piece_id)))

    @extend_schema(request=ChangeComparison, responses=Compared)
    def patch(self, request: Request, comparison_id: UUID) -> Response:
        """Where it lies, which corrections are taken, and a note."""
        user = artist(request)
        row = services.change(user, services.get(user, comparison_id), asked(ChangeComparison, request))
        return answer(Compared, shown.shown(row, drawn_of(user, row.piece_id)))

    @extend_schema(responses={204: None})
    def delete(self, request: Request, comparison_id: UUID) -> Response:
        """Forgets it, and what it taught."""
        services.delete(services.get(artist(request), comparison_id))
        return Response(status=204)


class AdviceView(APIView):
    """What to do about the drawing: a few layers more, the one that brings most first."""

    @extend_schema(responses=SaidAdvice)
    def get(self, request: Request, comparison_id: UUID) -> Response:
        user = artist(request)
        return answer(SaidAdvice, services.advice(user, services.get(user, comparison_id)))


class TaughtView(APIView):
    """What the sticks learn from the places of a drawing."""

    @extend_schema(request=Teach, responses=TaughtBy)
    def post(self, request: Request, comparison_id: UUID) -> Response:
        user = artist(request)
        row = services.get(user, comparison_id)
        return answer(TaughtBy, services.teach(user, row, asked(Teach, request).learn))


class ComparisonFileView(APIView):
    """A comparison with its pictures as one zip archive, see docs/compare.md."""

    @extend_schema(responses={(200, "application/zip"): OpenApiTypes.BINARY})
    def get(self, request: Request, comparison_id: UUID) -> HttpResponse:
        user = artist(request)
        row = services.get(user, comparison_id)
        held = HttpResponse(file.packed(user, row), content_type="application/zip")
        held.headers["Content-Disposition"] = f'attachment; filename="comparison-{row.number}.zip"'
        return held


class ComparisonSheetView(APIView):
    """A comparison on paper: both pictures, what was seen, and what to do."""

    @extend_schema(parameters=[KIND], responses=SHEETS)
    def get(self, request: Request, comparison_id: UUID) -> HttpResponse:
        user, kind = artist(request), kind_of(request)
        data, name = file.sheet(user, services.get(user, comparison_id), kind)
        return sheet_file(data, kind, name)


class ComparedPictureView(APIView):
    """The drawing as its picture lies, or the picture itself, as JPEG."""

    @extend_schema(
        parameters=[
            OpenApiParameter("side", str, enum=SIDES, default=SIDES[0]),
            OpenApiParameter("way", str, enum=WAYS, default=WAYS[0]),
            OpenApiParameter("size", int, enum=SIZES, default=SIZES[0]),
        ],
        responses={(200, "image/*"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, comparison_id: UUID) -> HttpResponse:
        user = artist(request)
        side, way = one_of(request, "side", SIDES, SIDES[0]), one_of(request, "way", WAYS, WAYS[0])
        size = one_of(request, "size", SIZES, SIZES[0])
        return picture_file(request, *pictured.picture(user, services.get(user, comparison_id), side, way, size))


class CorrectionPictureView(APIView):
    """Where a correction goes (`map`), or what it is about, its left half now and its right half then, as JPEG."""

    @extend_schema(
        parameters=[
            OpenApiParameter("kind", str, enum=_KINDS, default=_KINDS[0]),
            OpenApiParameter("size", int, enum=_MAP_SIZES, default=_MAP_SIZES[0]),
        ],
        responses={(200, "image/*"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, comparison_id: UUID, number: int) -> HttpResponse:
        user = artist(request)
        kind, size = one_of(request, "kind", _KINDS, _KINDS[0]), one_of(request, "size", _MAP_SIZES, _MAP_SIZES[0])
        row = services.get(user, comparison_id)
        return picture_file(request, *pictured.correction_picture(user, row, number, kind, size))
