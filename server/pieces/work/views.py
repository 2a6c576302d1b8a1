"""The work on paper over HTTP."""

from __future__ import annotations

from uuid import UUID

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from server.api.requests import artist
from server.api.values import answer, asked
from server.pieces.document.history import document_of
from server.pieces.work import services
from server.pieces.work.values import Sheet, WorkChanges


class SheetView(APIView):
    """The work sheet."""

    @extend_schema(responses=Sheet)
    def get(self, request: Request, piece_id: UUID) -> Response:
        user = artist(request)
        return answer(Sheet, services.sheet(user, document_of(user, piece_id)))


class WorkView(APIView):
    """Ticks and notes; what is sent twice is noted once."""

    @extend_schema(request=WorkChanges, responses={204: None})
    def post(self, request: Request, piece_id: UUID) -> Response:
        services.note_work(artist(request), piece_id, asked(WorkChanges, request).passes)
        return Response(status=204)
