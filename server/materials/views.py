"""Trays, ranges, papers and methods over HTTP."""

from __future__ import annotations

from uuid import UUID

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.colour.munsell import value_greys
from core.look.measuring import sheet_sizes
from core.look.roles import PLACES, ROLES
from core.look.views import PUSHES, SQUINTS
from core.optics.medium import MAX_REPEATS
from core.recipe.rules import BLACK_POLICIES
from server.api.requests import artist
from server.materials import services
from server.materials.serializers import ConditionSerializer, MaterialsSerializer, NewTraySerializer, TraySerializer


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
        }
        return Response(MaterialsSerializer(choice).data)


class TraysView(APIView):
    """The artist's trays."""

    @extend_schema(responses=TraySerializer(many=True))
    def get(self, request: Request) -> Response:
        return Response(TraySerializer(services.trays_of(artist(request)), many=True).data)

    @extend_schema(request=NewTraySerializer, responses={201: TraySerializer})
    def post(self, request: Request) -> Response:
        form = NewTraySerializer(data=request.data)
        form.is_valid(raise_exception=True)
        given = form.validated_data
        if "csv" in given:
            tray = services.import_tray(artist(request), given["name"], given["csv"].encode())
        else:
            tray = services.start_tray(artist(request), given["name"], given["range"])
        return Response(TraySerializer(tray).data, status=201)


class TrayView(APIView):
    """One tray."""

    @extend_schema(request=ConditionSerializer, responses=TraySerializer)
    def patch(self, request: Request, tray_id: UUID) -> Response:
        form = ConditionSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        tray = services.set_condition(artist(request), tray_id, **form.validated_data)
        return Response(TraySerializer(tray).data)

    @extend_schema(responses={204: None})
    def delete(self, request: Request, tray_id: UUID) -> Response:
        services.delete_tray(artist(request), tray_id)
        return Response(status=204)
