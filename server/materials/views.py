"""Trays, ranges, papers and methods over HTTP."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.colour.munsell import value_greys
from core.limits import LIMITS
from core.look.measuring import sheet_sizes
from core.look.roles import PLACES, ROLES
from core.look.views import PUSHES, SQUINTS
from core.optics.medium import MAX_REPEATS
from core.recipe.rules import BLACK_POLICIES
from server.api.requests import artist, valid
from server.materials import services
from server.materials.serializers import (
    AddRangeSerializer,
    ConditionSerializer,
    MaterialsSerializer,
    NewPaperSerializer,
    NewTraySerializer,
    PaperSerializer,
    TraySerializer,
)


class MaterialsView(APIView):
    """What there is to choose from."""

    @extend_schema(responses=MaterialsSerializer)
    def get(self, request: Request) -> Response:
        ranges = [{"id": key, "name": r.name, "size": len(r.sticks)} for key, r in services.ranges().items()]
        choice = {
            "ranges": ranges,
            "papers": services.papers(),
            "methods": services.schools(),
            "media": services.media(),
            "roles": ROLES,
            "places": PLACES,
            "black_policies": BLACK_POLICIES,
            "value_greys": value_greys(),
            "sheets": [{"name": n, "width_mm": w, "height_mm": h} for n, (w, h) in sheet_sizes().items()],
            "squints": len(SQUINTS),
            "pushes": PUSHES,
            "repeats": range(1, MAX_REPEATS + 1),
            "limits": LIMITS,
        }
        return Response(MaterialsSerializer(choice).data)


class PapersView(APIView):
    """The artist's own papers."""

    @extend_schema(responses=PaperSerializer(many=True))
    def get(self, request: Request) -> Response:
        return Response(PaperSerializer(services.papers_of(artist(request)), many=True).data)

    @extend_schema(request=NewPaperSerializer, responses={201: PaperSerializer})
    def post(self, request: Request) -> Response:
        given = valid(NewPaperSerializer, request)
        return Response(PaperSerializer(services.keep_paper(artist(request), **given)).data, status=201)


class PaperView(APIView):
    """One paper of the artist's own."""

    @extend_schema(responses={204: None})
    def delete(self, request: Request, paper_id: UUID) -> Response:
        services.delete_paper(artist(request), paper_id)
        return Response(status=204)


class ToothView(APIView):
    """The tooth of a paper, as a grey PNG that repeats without a seam: dark in the valleys, light on the peaks."""

    @extend_schema(responses={(200, "image/png"): OpenApiTypes.BINARY})
    def get(self, request: Request, paper_id: str) -> HttpResponse:
        png = services.tooth_picture(artist(request), paper_id)
        return HttpResponse(png, content_type="image/png", headers={"Cache-Control": "private, max-age=86400"})


class TraysView(APIView):
    """The artist's trays."""

    @extend_schema(responses=TraySerializer(many=True))
    def get(self, request: Request) -> Response:
        return Response(TraySerializer(services.trays_of(artist(request)), many=True).data)

    @extend_schema(request=NewTraySerializer, responses={201: TraySerializer})
    def post(self, request: Request) -> Response:
        given = valid(NewTraySerializer, request)
        if "csv" in given:
            tray = services.import_tray(artist(request), given["name"], given["csv"].encode())
        else:
            tray = services.start_tray(artist(request), given["name"], given["range"])
        return Response(TraySerializer(tray).data, status=201)


class TrayView(APIView):
    """One tray."""

    @extend_schema(request=ConditionSerializer, responses=TraySerializer)
    def patch(self, request: Request, tray_id: UUID) -> Response:
        given = valid(ConditionSerializer, request)
        tray = services.set_condition(artist(request), tray_id, **given)
        return Response(TraySerializer(tray).data)

    @extend_schema(responses={204: None})
    def delete(self, request: Request, tray_id: UUID) -> Response:
        services.delete_tray(artist(request), tray_id)
        return Response(status=204)


class TrayRangesView(APIView):
    """Putting a range into a tray."""

    @extend_schema(request=AddRangeSerializer, responses=TraySerializer)
    def post(self, request: Request, tray_id: UUID) -> Response:
        given = valid(AddRangeSerializer, request)
        tray = services.add_range(artist(request), tray_id, given["range"])
        return Response(TraySerializer(tray).data)
