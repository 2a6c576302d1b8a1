"""Complexions and imagined light over HTTP."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from server.api.requests import SHEETS, artist, sheet_file
from server.api.values import answer, asked
from server.imagined import services
from server.imagined.values import (
    AskMap,
    AskPicture,
    AskTold,
    Choices,
    ComplexionsFile,
    ComplexionShown,
    SceneTold,
    TakenIn,
    WriteComplexion,
)


class ComplexionsView(APIView):
    """The complexions that the artist keeps."""

    @extend_schema(operation_id="complexions_list", responses={(200, "application/json"): list[ComplexionShown]})
    def get(self, request: Request) -> Response:
        return answer(list[ComplexionShown], services.complexions(artist(request)))

    @extend_schema(request=WriteComplexion, responses={201: ComplexionShown})
    def post(self, request: Request) -> Response:
        return answer(ComplexionShown, services.keep(artist(request), asked(WriteComplexion, request)), 201)


class ComplexionView(APIView):
    """One complexion."""

    @extend_schema(request=WriteComplexion, responses=ComplexionShown)
    def put(self, request: Request, complexion_id: UUID) -> Response:
        given = asked(WriteComplexion, request)
        return answer(ComplexionShown, services.change(artist(request), complexion_id, given))

    @extend_schema(responses={204: None})
    def delete(self, request: Request, complexion_id: UUID) -> Response:
        services.delete(artist(request), complexion_id)
        return Response(status=204)


class ComplexionsFileView(APIView):
    """All complexions as one file, and back."""

    @extend_schema(responses={(200, "application/json"): OpenApiTypes.OBJECT})
    def get(self, request: Request) -> HttpResponse:
        held = HttpResponse(services.file_of(artist(request)), content_type="application/json")
        held.headers["Content-Disposition"] = 'attachment; filename="complexions.json"'
        return held

    @extend_schema(request=ComplexionsFile, responses=TakenIn)
    def post(self, request: Request) -> Response:
        return answer(TakenIn, services.take_in(artist(request), asked(ComplexionsFile, request).file))


class ChoicesView(APIView):
    """What there is to choose from for an imagined light."""

    @extend_schema(responses=Choices)
    def get(self, request: Request) -> Response:
        artist(request)
        return answer(Choices, services.choices())


class LightPictureView(APIView):
    """A sitter under an imagined light; nothing is stored."""

    @extend_schema(request=AskPicture, responses={(200, "image/*"): OpenApiTypes.BINARY})
    def post(self, request: Request) -> HttpResponse:
        artist(request)
        made = services.picture(asked(AskPicture, request))
        kind = "image/png" if made.startswith(b"\x89PNG") else "image/jpeg"
        return HttpResponse(made, content_type=kind)


class LightToldView(APIView):
    """Families, targets and jobs of an imagined light; nothing is stored."""

    @extend_schema(request=AskTold, responses=SceneTold)
    def post(self, request: Request) -> Response:
        artist(request)
        return answer(SceneTold, services.told(asked(AskTold, request)))


class LightMapView(APIView):
    """The shading map of an imagined light, as PDF, SVG or PNG."""

    @extend_schema(
        request=AskMap,
        responses=SHEETS,
    )
    def post(self, request: Request) -> HttpResponse:
        artist(request)
        given = asked(AskMap, request)
        return sheet_file(services.shading_map(given), given.kind, "shading-map")
