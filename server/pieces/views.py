"""Pieces and pictures over HTTP."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any
from uuid import UUID

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.throttling import ScopedRateThrottle
from rest_framework.views import APIView

from core.errors import InputError
from core.look.picture import MAX_BYTES
from core.look.views import FEWEST_STEPS, MOST_STEPS
from server.api.errors import StaleWriteError
from server.api.requests import artist, valid
from server.materials.serializers import SwatchSerializer
from server.pieces.serializers import document as forms
from server.pieces.serializers import look
from server.pieces.serializers import mixing as mixing_forms
from server.pieces.services import history, looking, mixing, pictures, pieces, recipes
from server.pieces.services.migrate import Document


def _document(request: Request, piece_id: UUID) -> Document:
    return history.open_piece(artist(request), piece_id).document


def _number(request: Request, name: str, usual: int) -> int:
    text = request.query_params.get(name, str(usual))
    if not (text.isascii() and text.isdigit() and len(text) < 4):
        raise InputError(f"bad_{name}", f"“{text[:20]}” is not a whole number.", "Use digits.", name)
    return int(text)


def _shown(request: Request, opened: history.Opened) -> dict[str, Any]:
    return dict(forms.PieceSerializer(pieces.shown(artist(request), opened)).data)


def _answer(request: Request, write: Callable[[], history.Opened]) -> Response:
    """The piece after a write, or 409 with the newer state."""
    try:
        return Response(_shown(request, write()))
    except history.StaleVersionError as error:
        raise StaleWriteError(_shown(request, error.newer)) from error


class PiecesView(APIView):
    """The artist's pieces."""

    @extend_schema(responses=forms.PieceRowSerializer(many=True))
    def get(self, request: Request) -> Response:
        return Response(forms.PieceRowSerializer(pieces.rows(artist(request)), many=True).data)

    @extend_schema(request=forms.NewPieceSerializer, responses={201: forms.PieceSerializer})
    def post(self, request: Request) -> Response:
        given = valid(forms.NewPieceSerializer, request)
        return Response(_shown(request, pieces.create(artist(request), given["title"])), status=201)


class PieceView(APIView):
    """One piece."""

    @extend_schema(responses=forms.PieceSerializer)
    def get(self, request: Request, piece_id: UUID) -> Response:
        return Response(_shown(request, history.open_piece(artist(request), piece_id)))

    @extend_schema(request=forms.WritePieceSerializer, responses=forms.PieceSerializer)
    def put(self, request: Request, piece_id: UUID) -> Response:
        given = valid(forms.WritePieceSerializer, request)
        return _answer(request, lambda: pieces.write(artist(request), piece_id, **given))

    @extend_schema(responses={204: None})
    def delete(self, request: Request, piece_id: UUID) -> Response:
        history.delete(artist(request), piece_id)
        return Response(status=204)


class UndoView(APIView):
    """One step back."""

    by = -1

    @extend_schema(request=forms.VersionSerializer, responses=forms.PieceSerializer)
    def post(self, request: Request, piece_id: UUID) -> Response:
        version = valid(forms.VersionSerializer, request)["version"]
        return _answer(request, lambda: history.step(artist(request), piece_id, version, self.by))


class RedoView(UndoView):
    """One step forward again."""

    by = 1


class SolveView(APIView):
    """Fresh recipes."""

    @extend_schema(request=forms.SolveSerializer, responses=forms.PieceSerializer)
    def post(self, request: Request, piece_id: UUID) -> Response:
        given = valid(forms.SolveSerializer, request)
        return _answer(request, lambda: pieces.solve(artist(request), piece_id, **given))


class PredictView(APIView):
    """What passes would give; nothing is stored."""

    @extend_schema(request=forms.PredictSerializer, responses=forms.OutcomeSerializer)
    def post(self, request: Request, piece_id: UUID) -> Response:
        given = valid(forms.PredictSerializer, request)
        document = _document(request, piece_id)
        return Response(forms.OutcomeSerializer(recipes.predicted(artist(request), document, **given)).data)


class SheetView(APIView):
    """The work sheet."""

    @extend_schema(responses=forms.SheetSerializer)
    def get(self, request: Request, piece_id: UUID) -> Response:
        document = _document(request, piece_id)
        return Response(forms.SheetSerializer(recipes.sheet(artist(request), document)).data)


class PicturesView(APIView):
    """Putting a picture in."""

    parser_classes = [MultiPartParser]
    throttle_classes = [ScopedRateThrottle]
    throttle_scope = "upload"

    @extend_schema(request=forms.UploadSerializer, responses={201: forms.PictureSerializer})
    def post(self, request: Request) -> Response:
        file = valid(forms.UploadSerializer, request)["file"]
        data = file.read(MAX_BYTES + 1)
        return Response(forms.PictureSerializer(pictures.store_picture(artist(request), data)).data, status=201)


class PictureView(APIView):
    """A picture as it is, as JPEG."""

    @extend_schema(responses={(200, "image/*"): OpenApiTypes.BINARY})
    def get(self, request: Request, picture_id: UUID) -> HttpResponse:
        return _jpeg(pictures.shown(artist(request), picture_id))


class PatchView(APIView):
    """A paper on a photograph, read beside a white sheet; nothing is stored."""

    @extend_schema(request=look.PatchSerializer, responses=SwatchSerializer)
    def post(self, request: Request, picture_id: UUID) -> Response:
        given = valid(look.PatchSerializer, request)
        return Response(SwatchSerializer(pictures.patch(artist(request), picture_id, **given)).data)


def _jpeg(data: bytes) -> HttpResponse:
    return HttpResponse(data, content_type="image/jpeg", headers={"Cache-Control": "private, max-age=86400"})


class StudyView(APIView):
    """What the reference shows."""

    @extend_schema(responses=look.StudySerializer)
    def get(self, request: Request, piece_id: UUID) -> Response:
        return Response(look.StudySerializer(looking.studied(artist(request), _document(request, piece_id))).data)


class SuggestView(APIView):
    """Spots that might be worth marking; nothing is stored."""

    @extend_schema(request=None, responses=look.SuggestionSerializer)
    def post(self, request: Request, piece_id: UUID) -> Response:
        return Response(
            look.SuggestionSerializer(looking.suggested(artist(request), _document(request, piece_id))).data
        )


class MeasureView(APIView):
    """A mark that is being drawn; nothing is stored."""

    @extend_schema(request=look.MeasureSerializer, responses=look.MeasuredSerializer)
    def post(self, request: Request, piece_id: UUID) -> Response:
        mark = valid(look.MeasureSerializer, request)["mark"]
        said = looking.measured_one(artist(request), _document(request, piece_id), dict(mark))
        return Response(look.MeasuredSerializer(said).data)


class SeeingView(APIView):
    """A way of seeing the reference, as JPEG. `key` only tells browsers when to ask again."""

    @extend_schema(
        parameters=[
            OpenApiParameter("kind", str, enum=looking.WAYS, default="as_it_is"),
            OpenApiParameter("amount", int, default=5),
            OpenApiParameter("borders", int, enum=[0, 1], default=0),
            OpenApiParameter("balanced", int, enum=[0, 1], default=0),
            OpenApiParameter("key", str),
        ],
        responses={(200, "image/*"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, piece_id: UUID) -> HttpResponse:
        kind = request.query_params.get("kind", "as_it_is")
        amount = _number(request, "amount", 5)
        borders, balanced = (bool(_number(request, name, 0)) for name in ("borders", "balanced"))
        return _jpeg(looking.view(artist(request), _document(request, piece_id), kind, amount, borders, balanced))


class TransferView(APIView):
    """Everything on the transfer page."""

    @extend_schema(parameters=[OpenApiParameter("steps", int, default=5)], responses=look.TransferSerializer)
    def get(self, request: Request, piece_id: UUID) -> Response:
        steps = _number(request, "steps", 5)
        if not FEWEST_STEPS <= steps <= MOST_STEPS:
            raise InputError("bad_steps", f"{steps} values are out of range.", "Use 2 to 9.", "steps")
        said = looking.transfer(artist(request), _document(request, piece_id), steps)
        return Response(look.TransferSerializer(said).data)


class PrepareView(APIView):
    """Looking for the best stacks of some spots beforehand; nothing is stored."""

    @extend_schema(request=forms.SpotsSerializer, responses=mixing_forms.PreparedSerializer)
    def post(self, request: Request, piece_id: UUID) -> Response:
        spots = valid(forms.SpotsSerializer, request)["spots"]
        found = recipes.prepared(artist(request), _document(request, piece_id), spots)
        return Response(mixing_forms.PreparedSerializer({"done": len(found.spots)}).data)


class AnswersView(APIView):
    """Several answers for one spot; nothing is stored."""

    @extend_schema(request=mixing_forms.SpotIdSerializer, responses=mixing_forms.AnswerSerializer(many=True))
    def post(self, request: Request, piece_id: UUID) -> Response:
        spot = valid(mixing_forms.SpotIdSerializer, request)["spot"]
        said = mixing.other_answers(artist(request), _document(request, piece_id), spot)
        return Response(mixing_forms.AnswerSerializer(said, many=True).data)


class FiguresView(APIView):
    """Base, departures, undertones and ramp of every figure."""

    @extend_schema(responses=mixing_forms.FiguresSerializer)
    def get(self, request: Request, piece_id: UUID) -> Response:
        said = mixing.figures(artist(request), _document(request, piece_id))
        return Response(mixing_forms.FiguresSerializer(said).data)


class PaletteView(APIView):
    """The best palette for the piece; nothing is stored."""

    @extend_schema(request=mixing_forms.PaletteInSerializer, responses=mixing_forms.PaletteSerializer)
    def post(self, request: Request, piece_id: UUID) -> Response:
        given = valid(mixing_forms.PaletteInSerializer, request)
        document = _document(request, piece_id)
        said = mixing.palette(artist(request), document, given.get("size"), given.get("within"))
        return Response(mixing_forms.PaletteSerializer(said).data)


class MissingView(APIView):
    """The best mix in the place of a stick; nothing is stored."""

    @extend_schema(request=mixing_forms.StickCodeSerializer, responses=mixing_forms.TriedRecipeSerializer)
    def post(self, request: Request, piece_id: UUID) -> Response:
        code = valid(mixing_forms.StickCodeSerializer, request)["code"]
        said = mixing.missing(artist(request), _document(request, piece_id), code)
        return Response(mixing_forms.TriedRecipeSerializer(said).data)


class ContextView(APIView):
    """A spot beside its neighbours; nothing is stored."""

    @extend_schema(request=mixing_forms.SpotIdSerializer, responses=mixing_forms.NeighbourSerializer(many=True))
    def post(self, request: Request, piece_id: UUID) -> Response:
        spot = valid(mixing_forms.SpotIdSerializer, request)["spot"]
        said = mixing.context(artist(request), _document(request, piece_id), spot)
        return Response(mixing_forms.NeighbourSerializer(said, many=True).data)


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
        whole = request.query_params.get("stage", "-1") == "-1"
        stage = None if whole else _number(request, "stage", 0)
        grained, muted, in_values = (
            bool(_number(request, name, usual)) for name, usual in (("grain", 0), ("muted", 1), ("values", 0))
        )
        document = _document(request, piece_id)
        return _jpeg(mixing.foreseen(artist(request), document, stage, grained, muted, in_values))
