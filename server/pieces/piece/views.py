"""Pieces over HTTP."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any
from uuid import UUID

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.exchange.pen import PNG_DPI, chosen
from core.method.steps import ORDERS
from server.api.errors import StaleWriteError
from server.api.memo import digest
from server.api.requests import KIND, SHEETS, artist, kind_of, number, one_of, picture_file, sheet_file
from server.api.values import answer, asked, encode
from server.pieces.document import history
from server.pieces.layers import services as layering
from server.pieces.layers.values import LayersAsTheyAre, PlanLayers, TakeLayers
from server.pieces.mix import advice
from server.pieces.mix.foreseen import foreseen
from server.pieces.mix.values import AtHand, JobColours
from server.pieces.piece import plan_sheet, services
from server.pieces.piece.keys import forecast_key
from server.pieces.piece.values import (
    PICTURED,
    ChangePiece,
    Imagine,
    NewPiece,
    Piece,
    PieceChange,
    PieceRow,
    PieceVersion,
    SheetPages,
    Solve,
    WritePiece,
)


def _shown(request: Request, opened: history.Opened) -> Any:
    return services.whole(artist(request), opened)


def _answer(request: Request, write: Callable[[], Any]) -> Response:
    """What a write gives, or 409 with the newer state."""
    try:
        return Response(write())
    except history.StaleVersionError as error:
        raise StaleWriteError(_shown(request, error.newer)) from error


class PiecesView(APIView):
    """The artist's pieces."""

    @extend_schema(operation_id="pieces_list", responses={(200, "application/json"): list[PieceRow]})
    def get(self, request: Request) -> Response:
        return answer(list[PieceRow], services.rows(artist(request)))

    @extend_schema(request=NewPiece, responses={201: Piece})
    def post(self, request: Request) -> Response:
        given = asked(NewPiece, request)
        return Response(_shown(request, services.create(artist(request), given.title, given.key)), status=201)


class AtHandView(APIView):
    """What a new piece would be made with, and which of the sticks does which job; nothing is stored."""

    @extend_schema(request=JobColours, responses=AtHand)
    def post(self, request: Request) -> Response:
        user, given = artist(request), asked(JobColours, request)
        return answer(AtHand, advice.at_hand(user, services.usual_document(user), given.labs, given.values))


class PieceView(APIView):
    """One piece."""

    @extend_schema(responses=Piece)
    def get(self, request: Request, piece_id: UUID) -> Response:
        return Response(_shown(request, history.open_piece(artist(request), piece_id)))

    @extend_schema(request=WritePiece, responses=Piece)
    def put(self, request: Request, piece_id: UUID) -> Response:
        given, work = services.sent(request.data)
        parts = (given.version, given.title, given.document, given.key, work)
        return _answer(request, lambda: _shown(request, services.write(artist(request), piece_id, *parts)))

    @extend_schema(request=ChangePiece, responses=PieceChange)
    def patch(self, request: Request, piece_id: UUID) -> Response:
        given = asked(ChangePiece, request)
        return _answer(request, lambda: encode(PieceChange, services.change(artist(request), piece_id, given)))

    @extend_schema(responses={204: None})
    def delete(self, request: Request, piece_id: UUID) -> Response:
        history.delete(artist(request), piece_id)
        return Response(status=204)


class UndoView(APIView):
    """One step back."""

    by = -1

    @extend_schema(request=PieceVersion, responses=PieceChange)
    def post(self, request: Request, piece_id: UUID) -> Response:
        given = asked(PieceVersion, request)
        return _answer(request, lambda: encode(PieceChange, services.step(artist(request), piece_id, given, self.by)))


class RedoView(UndoView):
    """One step forward again."""

    by = 1


class SolveView(APIView):
    """Fresh recipes."""

    @extend_schema(request=Solve, responses=PieceChange)
    def post(self, request: Request, piece_id: UUID) -> Response:
        given = asked(Solve, request)
        return _answer(request, lambda: encode(PieceChange, services.solve(artist(request), piece_id, given)))


class LayersView(APIView):
    """The layers of a piece: what is to be expected of them as they are, and plans put in their place."""

    @extend_schema(responses=LayersAsTheyAre)
    def get(self, request: Request, piece_id: UUID) -> Response:
        user = artist(request)
        return answer(LayersAsTheyAre, layering.as_they_are(user, history.open_piece(user, piece_id)))

    @extend_schema(request=PlanLayers, responses=PieceChange)
    def post(self, request: Request, piece_id: UUID) -> Response:
        given = asked(PlanLayers, request)
        return _answer(request, lambda: encode(PieceChange, services.plan_layers(artist(request), piece_id, given)))


class TakeLayersView(APIView):
    """Layers that were looked at, taken for a figure."""

    @extend_schema(request=TakeLayers, responses=PieceChange)
    def post(self, request: Request, piece_id: UUID) -> Response:
        given = asked(TakeLayers, request)
        return _answer(request, lambda: encode(PieceChange, services.take_layers(artist(request), piece_id, given)))


class ImagineView(APIView):
    """Seat figures that are described in an imagined light."""

    @extend_schema(request=Imagine, responses=PieceChange)
    def post(self, request: Request, piece_id: UUID) -> Response:
        given = asked(Imagine, request)
        return _answer(request, lambda: encode(PieceChange, services.imagine(artist(request), piece_id, given)))


DPI = (60, int(PNG_DPI))
_PRINTED = [
    OpenApiParameter("order", str, enum=ORDERS, default=ORDERS[0]),
    OpenApiParameter("maps", int, enum=(0, 1, 4), default=0, description="So many on pages of their own."),
]


def _printed(request: Request) -> plan_sheet.Printed:
    return plan_sheet.Printed(one_of(request, "order", ORDERS, ORDERS[0]), one_of(request, "maps", (0, 1, 4), 0))


class PlanFileView(APIView):
    """The plan as a sheet: layer by layer, with maps, sticks and what the hand does."""

    @extend_schema(
        parameters=[
            KIND,
            *_PRINTED,
            OpenApiParameter("pages", str, default="", description="Such as 1,3-5; all if none is named."),
            OpenApiParameter("dpi", int, enum=DPI, default=DPI[-1], description="Of PNG."),
        ],
        responses=SHEETS,
    )
    def get(self, request: Request, piece_id: UUID) -> HttpResponse:
        kind = kind_of(request)
        pages, dpi = chosen(request.query_params.get("pages", "")), one_of(request, "dpi", DPI, DPI[-1])
        printed = replace(_printed(request), pages=pages, dpi=dpi)
        data, name = plan_sheet.plan_file(artist(request), piece_id, kind, printed)
        return sheet_file(data, kind, name)


class PlanPagesView(APIView):
    """How many pages the sheet of a plan takes."""

    @extend_schema(parameters=_PRINTED, responses=SheetPages)
    def get(self, request: Request, piece_id: UUID) -> Response:
        return answer(SheetPages, SheetPages(plan_sheet.pages(artist(request), piece_id, _printed(request))))


class PicturesFileView(APIView):
    """What is seen of a plan: the reference after all layers, or the maps of them, or of one."""

    @extend_schema(
        parameters=[
            KIND,
            OpenApiParameter("what", str, enum=PICTURED, default=PICTURED[0]),
            OpenApiParameter("layer", str, default=""),
        ],
        responses=SHEETS,
    )
    def get(self, request: Request, piece_id: UUID) -> HttpResponse:
        kind, what = kind_of(request), one_of(request, "what", PICTURED, PICTURED[0])
        layer = request.query_params.get("layer", "")
        data, name = plan_sheet.pictures_file(artist(request), piece_id, what, kind, layer)
        return sheet_file(data, kind, name)


class ForecastView(APIView):
    """The drawing foreseen, as JPEG; up to a stage of the method, or whole with −1. `key` only tells browsers when
    to ask again."""

    @extend_schema(
        parameters=[
            OpenApiParameter("stage", int, default=-1),
            OpenApiParameter("grain", int, enum=[0, 1], default=0),
            OpenApiParameter("muted", int, enum=[0, 1], default=1),
            OpenApiParameter("values", int, enum=[0, 1], default=0),
            OpenApiParameter("key", str),
        ],
        responses={(200, "image/*"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, piece_id: UUID) -> HttpResponse:
        user = artist(request)
        whole = request.query_params.get("stage", "-1") == "-1"
        stage = None if whole else number(request, "stage", 0)
        grained, muted, in_values = (
            bool(number(request, name, usual)) for name, usual in (("grain", 0), ("muted", 1), ("values", 0))
        )
        drawn = history.open_piece(user, piece_id).drawn()
        document, key = drawn.document, digest(forecast_key(user, drawn), stage, grained, muted, in_values)
        return picture_file(request, key, lambda: foreseen(user, document, key, stage, grained, muted, in_values))
