"""Recipes and what is worth knowing around them, over HTTP; nothing is stored."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from server.api.jobs import jobs
from server.api.requests import KIND, SHEETS, artist, kind_of, sheet_file
from server.api.values import answer, asked
from server.pieces.document.history import document_of, open_piece
from server.pieces.mix import advice, services
from server.pieces.mix.outcomes import Outcome
from server.pieces.mix.values import (
    Answer,
    Figures,
    Neighbour,
    OneSpot,
    Palette,
    PaletteSize,
    Prepared,
    Progress,
    Spots,
    StickCode,
    Trial,
    TriedRecipe,
)


class PredictView(APIView):
    """What passes would give."""

    @extend_schema(request=Trial, responses=Outcome)
    def post(self, request: Request, piece_id: UUID) -> Response:
        user, given = artist(request), asked(Trial, request)
        document = document_of(user, piece_id)
        return answer(Outcome, services.predicted(user, document, given.target, given.role, given.bare()))


class PrepareView(APIView):
    """Looking for the best stacks of some spots beforehand."""

    @extend_schema(request=Spots, responses=Prepared)
    def post(self, request: Request, piece_id: UUID) -> Response:
        user, given = artist(request), asked(Spots, request)
        found = services.prepared(user, document_of(user, piece_id), given.spots)
        return answer(Prepared, Prepared(len(found.spots)))


class AnswersView(APIView):
    """Several answers for one spot."""

    @extend_schema(request=OneSpot, responses={(200, "application/json"): list[Answer]})
    def post(self, request: Request, piece_id: UUID) -> Response:
        user, given = artist(request), asked(OneSpot, request)
        return answer(list[Answer], services.other_answers(user, document_of(user, piece_id), given.spot))


class FiguresView(APIView):
    """Base, departures, undertones and ramp of every figure."""

    @extend_schema(responses=Figures)
    def get(self, request: Request, piece_id: UUID) -> Response:
        user = artist(request)
        return answer(Figures, advice.figures(user, document_of(user, piece_id)))


class RampsFileView(APIView):
    """The ramp of every figure from dark to light, as a sheet."""

    @extend_schema(parameters=[KIND], responses=SHEETS)
    def get(self, request: Request, piece_id: UUID) -> HttpResponse:
        user, kind = artist(request), kind_of(request)
        opened = open_piece(user, piece_id)
        data, name = advice.ramps_file(user, opened.piece.title, opened.document, kind)
        return sheet_file(data, kind, name)


class PaletteView(APIView):
    """The best palette for the piece."""

    @extend_schema(request=PaletteSize, responses=Palette)
    def post(self, request: Request, piece_id: UUID) -> Response:
        user, given = artist(request), asked(PaletteSize, request)
        return answer(Palette, advice.palette(user, document_of(user, piece_id), given.size, given.within))


class MissingView(APIView):
    """The best mix in the place of a stick."""

    @extend_schema(request=StickCode, responses=TriedRecipe)
    def post(self, request: Request, piece_id: UUID) -> Response:
        user, given = artist(request), asked(StickCode, request)
        return answer(TriedRecipe, advice.missing(user, document_of(user, piece_id), given.code))


class ContextView(APIView):
    """A spot beside its neighbours."""

    @extend_schema(request=OneSpot, responses={(200, "application/json"): list[Neighbour]})
    def post(self, request: Request, piece_id: UUID) -> Response:
        user, given = artist(request), asked(OneSpot, request)
        return answer(list[Neighbour], advice.context(user, document_of(user, piece_id), given.spot))


class JobView(APIView):
    """A job, by the key that whoever asked for it was told."""

    @extend_schema(responses=Progress)
    def get(self, request: Request, job_key: str) -> Response:
        return answer(Progress, Progress(*jobs.progress(job_key)))

    @extend_schema(responses={204: None})
    def delete(self, request: Request, job_key: str) -> Response:
        jobs.cancel(job_key)
        return Response(status=204)
