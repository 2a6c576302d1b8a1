"""Trays, ranges, papers and methods over HTTP."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from server.api.requests import artist
from server.api.values import answer, asked
from server.materials import services
from server.materials.values import AddRange, Materials, NewPaper, NewTray, Paper, StickCondition, Tray, TrayRow


class MaterialsView(APIView):
    """What there is to choose from."""

    @extend_schema(responses=Materials)
    def get(self, request: Request) -> Response:
        return answer(Materials, services.everything())


class PapersView(APIView):
    """The artist's own papers."""

    @extend_schema(responses={(200, "application/json"): list[Paper]})
    def get(self, request: Request) -> Response:
        return answer(list[Paper], [services.paper_shown(paper) for paper in services.papers_of(artist(request))])

    @extend_schema(request=NewPaper, responses={201: Paper})
    def post(self, request: Request) -> Response:
        made = services.keep_paper(artist(request), asked(NewPaper, request))
        return answer(Paper, services.paper_shown(made), 201)


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

    @extend_schema(operation_id="trays_list", responses={(200, "application/json"): list[TrayRow]})
    def get(self, request: Request) -> Response:
        return answer(list[TrayRow], services.tray_rows(artist(request)))

    @extend_schema(request=NewTray, responses={201: Tray})
    def post(self, request: Request) -> Response:
        return answer(Tray, services.tray_shown(services.new_tray(artist(request), asked(NewTray, request))), 201)


class TrayView(APIView):
    """One tray."""

    @extend_schema(responses=Tray)
    def get(self, request: Request, tray_id: UUID) -> Response:
        return answer(Tray, services.tray_shown(services.get_tray(artist(request), tray_id)))

    @extend_schema(request=StickCondition, responses=Tray)
    def patch(self, request: Request, tray_id: UUID) -> Response:
        given = asked(StickCondition, request)
        tray = services.set_condition(artist(request), tray_id, given.code, given.condition)
        return answer(Tray, services.tray_shown(tray))

    @extend_schema(responses={204: None})
    def delete(self, request: Request, tray_id: UUID) -> Response:
        services.delete_tray(artist(request), tray_id)
        return Response(status=204)


class TrayRangesView(APIView):
    """Putting a range into a tray."""

    @extend_schema(request=AddRange, responses=Tray)
    def post(self, request: Request, tray_id: UUID) -> Response:
        tray = services.add_range(artist(request), tray_id, asked(AddRange, request).range)
        return answer(Tray, services.tray_shown(tray))
