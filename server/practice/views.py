"""Practice over HTTP."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from server.api.requests import artist, picture_file
from server.api.values import answer, asked
from server.practice import services
from server.practice.values import (
    AskRamp,
    AskRound,
    Guess,
    PracticeRound,
    QuestionShown,
    RampShownRead,
    Standing,
)


class PracticeView(APIView):
    """What the artist's answers show, and what is due."""

    @extend_schema(responses=Standing)
    def get(self, request: Request) -> Response:
        return answer(Standing, services.standing(artist(request)))

    @extend_schema(responses={204: None})
    def delete(self, request: Request) -> Response:
        """Forgets all answers."""
        services.forget(artist(request))
        return Response(status=204)


class RoundsView(APIView):
    """Rounds of questions."""

    @extend_schema(request=AskRound, responses={201: PracticeRound})
    def post(self, request: Request) -> Response:
        """Begins one; what was left unanswered of another goes."""
        return answer(PracticeRound, services.begin(artist(request), asked(AskRound, request)), 201)


class RoundView(APIView):
    """A round."""

    @extend_schema(responses=PracticeRound)
    def get(self, request: Request, round_id: UUID) -> Response:
        return answer(PracticeRound, services.get(artist(request), round_id))


class AnswerView(APIView):
    """The answer to a question of a round."""

    @extend_schema(request=Guess, responses=QuestionShown)
    def put(self, request: Request, round_id: UUID, number: int) -> Response:
        """Gives it, once; what is true comes back."""
        given = asked(Guess, request).guess
        return answer(QuestionShown, services.answer(artist(request), round_id, number, given))

    @extend_schema(responses={200: QuestionShown})
    def delete(self, request: Request, round_id: UUID, number: int) -> Response:
        """Takes a slip back: it is asked again."""
        return answer(QuestionShown, services.take_back(artist(request), round_id, number))


class PracticePictureView(APIView):
    """What a question is about, where it is, as JPEG."""

    @extend_schema(responses={(200, "image/*"): OpenApiTypes.BINARY})
    def get(self, request: Request, round_id: UUID, number: int) -> HttpResponse:
        return picture_file(request, *services.picture(artist(request), round_id, number))


class RampsView(APIView):
    """Five steps of a stick, laid by hand."""

    @extend_schema(request=AskRamp, responses={201: RampShownRead})
    def post(self, request: Request) -> Response:
        """Measures and keeps them."""
        return answer(RampShownRead, services.ramp(artist(request), asked(AskRamp, request)), 201)
