"""The work on paper over HTTP."""

from __future__ import annotations

from uuid import UUID

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.method.steps import ORDERS
from server.api.requests import artist, one_of
from server.api.values import answer, asked
from server.pieces.document.history import open_piece
from server.pieces.work import services
from server.pieces.work.values import Sheet, WorkChanges


class SheetView(APIView):
    """The work sheet."""

    @extend_schema(parameters=[OpenApiParameter("order", str, enum=ORDERS)], responses=Sheet)
    def get(self, request: Request, piece_id: UUID) -> Response:
        user, order = artist(request), one_of(request, "order", ORDERS, ORDERS[0])
        opened = open_piece(user, piece_id)
        return answer(Sheet, services.sheet(user, opened.drawn(), order, services.rounds_of(opened.piece)))


class WorkView(APIView):
    """Ticks and notes; what is sent twice is noted once."""

    @extend_schema(request=WorkChanges, responses={204: None})
    def post(self, request: Request, piece_id: UUID) -> Response:
        services.note_work(artist(request), piece_id, asked(WorkChanges, request).passes)
        return Response(status=204)
