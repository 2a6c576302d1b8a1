"""Looking at a reference over HTTP."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.errors import InputError
from core.look.measuring import Measured
from core.look.views import FEWEST_STEPS, MOST_STEPS
from core.look.ways import WAYS
from server.api.memo import digest
from server.api.names import file_name
from server.api.requests import KIND, SHEETS, artist, kind_of, number, one_of, picture_file, sheet_file
from server.api.values import answer, asked
from server.pictures.services import LONGEST_SHOWN, SIZES
from server.pieces.document.history import document_of, open_piece
from server.pieces.look import services
from server.pieces.look.values import DrawnMark, Study, Suggestion


class StudyView(APIView):
    """What the reference shows."""

    @extend_schema(responses=Study)
    def get(self, request: Request, piece_id: UUID) -> Response:
        user = artist(request)
        return answer(Study, services.studied(user, document_of(user, piece_id)))


class SuggestView(APIView):
    """Spots that might be worth marking; nothing is stored."""

    @extend_schema(request=None, responses=Suggestion)
    def post(self, request: Request, piece_id: UUID) -> Response:
        user = artist(request)
        return answer(Suggestion, services.suggested(user, document_of(user, piece_id)))


class MeasureView(APIView):
    """A mark that is being drawn; nothing is stored."""

    @extend_schema(request=DrawnMark, responses=Measured)
    def post(self, request: Request, piece_id: UUID) -> Response:
        user, mark = artist(request), asked(DrawnMark, request).mark
        return answer(Measured, services.measured_one(user, document_of(user, piece_id), mark))


class SeeingView(APIView):
    """A way of seeing the reference, as JPEG. `key` only tells browsers when to ask again."""

    @extend_schema(
        parameters=[
            OpenApiParameter("kind", str, enum=tuple(WAYS), default="as_it_is"),
            OpenApiParameter("amount", int, default=5),
            OpenApiParameter("borders", int, enum=[0, 1], default=0),
            OpenApiParameter("balanced", int, enum=[0, 1], default=0),
            OpenApiParameter("size", int, enum=SIZES, default=LONGEST_SHOWN),
            OpenApiParameter("key", str),
        ],
        responses={(200, "image/*"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, piece_id: UUID) -> HttpResponse:
        user = artist(request)
        document = document_of(user, piece_id)
        kind = request.query_params.get("kind", "as_it_is")
        amount = number(request, "amount", 5)
        borders, balanced = (bool(number(request, name, 0)) for name in ("borders", "balanced"))
        size = one_of(request, "size", SIZES, LONGEST_SHOWN)
        key = digest(services.look_key(document), kind, amount, borders, balanced, size)
        return picture_file(request, key, lambda: services.view(user, document, kind, amount, borders, balanced, size))


def _steps(request: Request) -> int:
    """How many values borders are drawn between. Raises InputError (`bad_steps`)."""
    steps = number(request, "steps", 5)
    if not FEWEST_STEPS <= steps <= MOST_STEPS:
        raise InputError(
            "bad_steps", f"{steps} values are out of range.", f"Use {FEWEST_STEPS} to {MOST_STEPS}.", "steps"
        )
    return steps


class TransferSheetView(APIView):
    """The transfer page as a sheet at its true size. parts: on A4 pages, to be joined."""

    @extend_schema(
        parameters=[
            KIND,
            OpenApiParameter("steps", int, default=5),
            OpenApiParameter("mirrored", int, enum=[0, 1], default=0),
            OpenApiParameter("parts", int, enum=[0, 1], default=0),
        ],
        responses=SHEETS,
    )
    def get(self, request: Request, piece_id: UUID) -> HttpResponse:
        user, kind, steps = artist(request), kind_of(request), _steps(request)
        mirrored, parts = (bool(one_of(request, name, (0, 1), 0)) for name in ("mirrored", "parts"))
        opened = open_piece(user, piece_id)
        title = opened.piece.title
        data = services.transfer_sheet(user, title, opened.document, steps, mirrored, parts, kind)
        return sheet_file(data, kind, f"{file_name(title, 'piece')}-transfer")
