"""Trial cards of a piece over HTTP."""

from __future__ import annotations

from uuid import UUID

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from server.api.requests import artist
from server.api.values import answer, asked
from server.pieces.trying import services
from server.trials.values import AskCard, TakeBack, TrialCard, Trials


class CardsView(APIView):
    """Trial cards for the sticks and the paper of a piece."""

    @extend_schema(responses=Trials)
    def get(self, request: Request, piece_id: UUID) -> Response:
        return answer(Trials, services.trials(artist(request), piece_id))

    @extend_schema(request=AskCard, responses={201: TrialCard})
    def post(self, request: Request, piece_id: UUID) -> Response:
        """Makes one."""
        return answer(TrialCard, services.make(artist(request), piece_id, asked(AskCard, request)), 201)


class TakenBackView(APIView):
    """Boxes that are not to be learnt from any more."""

    @extend_schema(request=TakeBack, responses=Trials)
    def post(self, request: Request, piece_id: UUID) -> Response:
        """Leaves out all that hold a stick, or all of its cards."""
        return answer(Trials, services.take_back(artist(request), piece_id, asked(TakeBack, request)))
