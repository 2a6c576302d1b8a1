"""An artist as a whole over HTTP."""

from __future__ import annotations

from collections.abc import Iterator
from uuid import UUID

from django.contrib.auth import logout
from django.http import StreamingHttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.throttling import ScopedRateThrottle
from rest_framework.views import APIView

from core.notebook.found import KINDS
from server.api.requests import UploadSerializer, artist, one_of, valid
from server.api.values import answer, asked
from server.personal import buying, reuse, services, taking_in, taking_out
from server.personal.notebook import notebook
from server.personal.serializers import FarewellSerializer, SpaceSerializer
from server.personal.values import (
    Advice,
    AskBuy,
    AskCheapest,
    BundleTaken,
    CheapestPurchase,
    Notebook,
    Removed,
    StickLasts,
    Use,
    UseAgain,
    UsedAgain,
)

_LONGEST_TEXT = 200


def _archive(data: Iterator[bytes], name: str) -> StreamingHttpResponse:
    held = StreamingHttpResponse(data, content_type="application/zip")
    held.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return held


class SpaceView(APIView):
    """How much space the artist's pictures take."""

    @extend_schema(responses=SpaceSerializer)
    def get(self, request: Request) -> Response:
        return Response(SpaceSerializer(services.space(artist(request))).data)


class ExportView(APIView):
    """Everything the artist has, as one zip archive."""

    @extend_schema(responses={(200, "application/zip"): OpenApiTypes.BINARY})
    def get(self, request: Request) -> StreamingHttpResponse:
        return _archive(taking_out.everything(artist(request)), "caltin-export.zip")


class PieceFileView(APIView):
    """A piece with everything that it is made with, as a zip archive that can be taken in again."""

    @extend_schema(
        parameters=[OpenApiParameter("history", int, enum=[0, 1], default=0)],
        responses={(200, "application/zip"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, piece_id: UUID) -> StreamingHttpResponse:
        with_history = one_of(request, "history", (0, 1), 0) == 1
        return _archive(*taking_out.piece_file(artist(request), piece_id, with_history))


class TrayBundleView(APIView):
    """A tray with its trial cards, as a zip archive that can be taken in again."""

    @extend_schema(responses={(200, "application/zip"): OpenApiTypes.BINARY})
    def get(self, request: Request, tray_id: UUID) -> StreamingHttpResponse:
        return _archive(*taking_out.tray_file(artist(request), tray_id))


class PracticeFileView(APIView):
    """All that was practised, as a zip archive that can be taken in again."""

    @extend_schema(responses={(200, "application/zip"): OpenApiTypes.BINARY})
    def get(self, request: Request) -> StreamingHttpResponse:
        return _archive(taking_out.practice_file(artist(request)), "practice.zip")


class BundlesView(APIView):
    """A bundle taken in: a piece, a tray, practice, or all that an artist had."""

    parser_classes = [MultiPartParser]
    throttle_classes = [ScopedRateThrottle]
    throttle_scope = "upload"

    @extend_schema(request=UploadSerializer, responses={201: BundleTaken})
    def post(self, request: Request) -> Response:
        user, file = artist(request), valid(UploadSerializer, request)["file"]
        return answer(BundleTaken, taking_in.take_in(user, file, file.size), 201)


class AccountView(APIView):
    """The account itself."""

    @extend_schema(operation_id="account_farewell", request=FarewellSerializer, responses={204: None})
    def post(self, request: Request) -> Response:
        """Deletes the account with everything in it."""
        services.delete(artist(request), valid(FarewellSerializer, request)["name"])
        logout(request)
        return Response(status=204)


class RemovedView(APIView):
    """What the artist has removed and can put back."""

    @extend_schema(responses={(200, "application/json"): list[Removed]})
    def get(self, request: Request) -> Response:
        return answer(list[Removed], services.removed(artist(request)))


class RemovedThingView(APIView):
    """One thing that was removed."""

    @extend_schema(request=None, responses={204: None})
    def post(self, request: Request, removed_id: UUID) -> Response:
        """Puts it back as it was."""
        services.put_back(artist(request), removed_id)
        return Response(status=204)

    @extend_schema(responses={204: None})
    def delete(self, request: Request, removed_id: UUID) -> Response:
        """Deletes it for good."""
        services.forget(artist(request), removed_id)
        return Response(status=204)


class UsesView(APIView):
    """Where the sticks of a tray are planned to be used."""

    @extend_schema(responses={(200, "application/json"): list[Use]})
    def get(self, request: Request, tray_id: UUID) -> Response:
        return answer(list[Use], services.uses(artist(request), tray_id))


class BuyView(APIView):
    """Which sticks to buy for the artist's pieces, one after the other."""

    @extend_schema(request=AskBuy, responses=Advice)
    def post(self, request: Request, tray_id: UUID) -> Response:
        return answer(Advice, buying.advice(artist(request), tray_id, asked(AskBuy, request)))


class CheapestView(APIView):
    """The cheapest way to the sticks that are wanted."""

    @extend_schema(request=AskCheapest, responses=CheapestPurchase)
    def post(self, request: Request, tray_id: UUID) -> Response:
        found = buying.purchase(artist(request), tray_id, asked(AskCheapest, request))
        return answer(CheapestPurchase, found)


class RunsOutView(APIView):
    """What plans still ask of the sticks of a tray."""

    @extend_schema(responses={(200, "application/json"): list[StickLasts]})
    def get(self, request: Request, tray_id: UUID) -> Response:
        return answer(list[StickLasts], buying.runs_out(artist(request), tray_id))


class NotebookView(APIView):
    """Everything that was planned, tried, compared and noted, found by words, by kind and by colour."""

    @extend_schema(
        parameters=[
            OpenApiParameter("text", str, default=""),
            OpenApiParameter("kind", str, enum=KINDS, many=True),
            OpenApiParameter("colour", str, default="", description="Six hex digits: the nearest come first."),
        ],
        responses=Notebook,
    )
    def get(self, request: Request) -> Response:
        text = request.query_params.get("text", "")[:_LONGEST_TEXT]
        kinds = [kind for kind in KINDS if kind in request.query_params.getlist("kind")]
        colour = request.query_params.get("colour", "")
        return answer(Notebook, notebook(artist(request), text, kinds, colour and f"#{colour[:12]}"))


class UseAgainView(APIView):
    """A plan of the notebook for another figure."""

    @extend_schema(request=UseAgain, responses=UsedAgain)
    def post(self, request: Request) -> Response:
        """Sets a piece up as an earlier one was, with what the tray of today has of its sticks."""
        return answer(UsedAgain, reuse.use(artist(request), asked(UseAgain, request)))
