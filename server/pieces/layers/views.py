"""Plans in layers over HTTP; nothing is stored (what stores them is in server.pieces.piece)."""

from __future__ import annotations

from uuid import UUID

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from server.api.requests import artist
from server.api.values import answer, asked
from server.pieces.document.history import document_of
from server.pieces.layers import services
from server.pieces.layers.values import (
    OneFigure,
    OneLayer,
    OtherStick,
    SaidPlan,
    SaidPlans,
    TryPlans,
)
from server.pieces.mix.values import OneSpot


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


class AccentView(APIView):
    """The layers of a figure with one more over one spot alone."""

    @extend_schema(request=OneSpot, responses=SaidPlan)
    def post(self, request: Request, piece_id: UUID) -> Response:
        user, given = artist(request), asked(OneSpot, request)
        return answer(SaidPlan, services.with_accent(user, document_of(user, piece_id), given.spot))


class OtherSticksView(APIView):
    """Other sticks for a layer, in the order of what they do to the whole face."""

    @extend_schema(request=OneLayer, responses={(200, "application/json"): list[OtherStick]})
    def post(self, request: Request, piece_id: UUID) -> Response:
        user, given = artist(request), asked(OneLayer, request)
        document = document_of(user, piece_id)
        return answer(list[OtherStick], services.other_sticks(user, document, given.figure, given.layer))
