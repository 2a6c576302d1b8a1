"""Trial cards over HTTP; those of a piece are asked for there."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from server.api.requests import KIND, SHEETS, artist, kind_of, sheet_file
from server.api.values import answer, asked
from server.trials import services, shown
from server.trials.values import AskPhoto, CorrectBoxes, PhotoSeen


class CardView(APIView):
    """A trial card."""

    @extend_schema(responses={204: None})
    def delete(self, request: Request, card_id: UUID) -> Response:
        """Forgets it, and what it taught."""
        user = artist(request)
        services.delete(user, services.get_card(user, card_id))
        return Response(status=204)


class CardSheetView(APIView):
    """A trial card to print, at its true size."""

    @extend_schema(parameters=[KIND], responses=SHEETS)
    def get(self, request: Request, card_id: UUID) -> HttpResponse:
        row, kind = services.get_card(artist(request), card_id), kind_of(request)
        data, name = services.as_sheet(row, kind)
        return sheet_file(data, kind, name)


class PhotosView(APIView):
    """Photographs of a filled card."""

    @extend_schema(request=AskPhoto, responses={201: PhotoSeen})
    def post(self, request: Request, card_id: UUID) -> Response:
        """Reads one, and learns from it."""
        user = artist(request)
        made = services.put_photo(user, services.get_card(user, card_id), asked(AskPhoto, request))
        return answer(PhotoSeen, shown.photo_shown(made), 201)


class PhotoView(APIView):
    """A photograph of a filled card."""

    @extend_schema(request=CorrectBoxes, responses=PhotoSeen)
    def patch(self, request: Request, photo_id: UUID) -> Response:
        """Learns from its boxes as the artist says they are."""
        user = artist(request)
        changed = services.correct(user, services.get_photo(user, photo_id), asked(CorrectBoxes, request))
        return answer(PhotoSeen, shown.photo_shown(changed))

    @extend_schema(responses={204: None})
    def delete(self, request: Request, photo_id: UUID) -> Response:
        """Takes back what it taught."""
        user = artist(request)
        services.take_back(user, services.get_photo(user, photo_id))
        return Response(status=204)
