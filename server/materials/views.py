"""Trays, ranges, papers and methods over HTTP."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiExample, OpenApiParameter, extend_schema
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.throttling import ScopedRateThrottle
from rest_framework.views import APIView

from core.exchange.list_file import MAX_BYTES, ListFile
from core.exchange.stick_list import StickList
from core.exchange.swatch_page import write_swatch_sheet
from core.photo.swatch_sheet import papers
from server.api.names import file_name
from server.api.requests import KIND, SHEETS, UploadSerializer, artist, kind_of, one_of, sheet_file, uploaded
from server.api.values import answer, asked
from server.materials import boxes, schools, services
from server.materials.values import (
    AskList,
    ChangeSticks,
    ForLesson,
    Materials,
    Method,
    Mixed,
    MoveSticks,
    NewMethod,
    NewPaper,
    NewTray,
    Paper,
    PutSticks,
    RangeSticks,
    ShiftedColour,
    SomeSticks,
    StandIn,
    Tray,
    TrayChange,
    TrayRow,
)


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


class MethodsView(APIView):
    """The artist's own methods."""

    @extend_schema(responses={(200, "application/json"): list[Method]})
    def get(self, request: Request) -> Response:
        return answer(list[Method], schools.of(artist(request)))

    @extend_schema(request=NewMethod, responses={201: Method})
    def post(self, request: Request) -> Response:
        """Takes one in out of a file."""
        return answer(Method, schools.keep(artist(request), asked(NewMethod, request).file), 201)


class MethodView(APIView):
    """One method of the artist's own."""

    @extend_schema(responses={204: None})
    def delete(self, request: Request, method_id: UUID) -> Response:
        schools.delete(artist(request), method_id)
        return Response(status=204)


class MethodFileView(APIView):
    """A method as TOML, of the artist's own or one that Caltin knows."""

    @extend_schema(responses={(200, "application/toml"): OpenApiTypes.BINARY})
    def get(self, request: Request, method_id: str) -> HttpResponse:
        data, name = schools.file_of(artist(request), method_id)
        held = HttpResponse(data, content_type="application/toml")
        held.headers["Content-Disposition"] = f'attachment; filename="{file_name(name, "method")}.toml"'
        return held


class ToothView(APIView):
    """The tooth of a paper, as a grey PNG that repeats without a seam: dark in the valleys, light on the peaks."""

    @extend_schema(responses={(200, "image/png"): OpenApiTypes.BINARY})
    def get(self, request: Request, paper_id: str) -> HttpResponse:
        png = services.tooth_picture(artist(request), paper_id)
        return HttpResponse(png, content_type="image/png", headers={"Cache-Control": "private, max-age=86400"})


class RangeView(APIView):
    """Everything in a range."""

    @extend_schema(responses=RangeSticks)
    def get(self, request: Request, range_id: str) -> Response:
        return answer(RangeSticks, services.range_shown(range_id))


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

    @extend_schema(request=TrayChange, responses=Tray)
    def patch(self, request: Request, tray_id: UUID) -> Response:
        tray = boxes.settings(artist(request), tray_id, asked(TrayChange, request))
        return answer(Tray, services.tray_shown(tray))

    @extend_schema(responses={204: None})
    def delete(self, request: Request, tray_id: UUID) -> Response:
        services.delete_tray(artist(request), tray_id)
        return Response(status=204)


class SticksView(APIView):
    """The sticks of a tray: put in, changed several at once."""

    @extend_schema(request=PutSticks, responses=Tray)
    def post(self, request: Request, tray_id: UUID) -> Response:
        tray = boxes.put(artist(request), tray_id, asked(PutSticks, request))
        return answer(Tray, services.tray_shown(tray))

    @extend_schema(request=ChangeSticks, responses=Tray)
    def patch(self, request: Request, tray_id: UUID) -> Response:
        given = asked(ChangeSticks, request)
        tray = boxes.change(artist(request), tray_id, given.codes, given.change)
        return answer(Tray, services.tray_shown(tray))


class AwayView(APIView):
    """Sticks taken out of a tray."""

    @extend_schema(request=SomeSticks, responses=Tray)
    def post(self, request: Request, tray_id: UUID) -> Response:
        tray = boxes.take_away(artist(request), tray_id, asked(SomeSticks, request).codes)
        return answer(Tray, services.tray_shown(tray))


class OrderView(APIView):
    """The order in which sticks lie in their box: those that are named come first."""

    @extend_schema(request=SomeSticks, responses=Tray)
    def put(self, request: Request, tray_id: UUID) -> Response:
        tray = boxes.put_in_order(artist(request), tray_id, asked(SomeSticks, request).codes)
        return answer(Tray, services.tray_shown(tray))


class MoveView(APIView):
    """Sticks moved or copied into another tray, or a new one; that other tray."""

    @extend_schema(request=MoveSticks, responses=Tray)
    def post(self, request: Request, tray_id: UUID) -> Response:
        tray = boxes.move(artist(request), tray_id, asked(MoveSticks, request))
        return answer(Tray, services.tray_shown(tray))


class TrayUndoView(APIView):
    """The last step of a tray taken back."""

    @extend_schema(request=None, responses=Tray)
    def post(self, request: Request, tray_id: UUID) -> Response:
        return answer(Tray, services.tray_shown(*boxes.undo(artist(request), tray_id)))


class TrayRedoView(APIView):
    """The step that was taken back last, done again."""

    @extend_schema(request=None, responses=Tray)
    def post(self, request: Request, tray_id: UUID) -> Response:
        return answer(Tray, services.tray_shown(*boxes.redo(artist(request), tray_id)))


class TrayFileView(APIView):
    """A tray as a file that can be read in again."""

    @extend_schema(
        parameters=[OpenApiParameter("kind", str, enum=list(boxes.FILES), default=next(iter(boxes.FILES)))],
        responses={(200, kind.media_type): OpenApiTypes.BINARY for kind in boxes.FILES.values()}
        | {(200, "application/json"): OpenApiTypes.OBJECT},
    )
    def get(self, request: Request, tray_id: UUID) -> HttpResponse:
        kind = one_of(request, "kind", tuple(boxes.FILES), next(iter(boxes.FILES)))
        data, name, media_type = boxes.file_of(artist(request), tray_id, kind)
        held = HttpResponse(data, content_type=media_type)
        held.headers["Content-Disposition"] = f'attachment; filename="{name}"'
        return held


_SIZE = OpenApiParameter("paper", str, enum=papers(), default="A4")


class EmptySheetView(APIView):
    """A sheet to lay swatches on, with empty lines, at its true size."""

    @extend_schema(parameters=[_SIZE, KIND], responses=SHEETS)
    def get(self, request: Request) -> HttpResponse:
        artist(request)
        paper = one_of(request, "paper", papers(), "A4")
        kind = kind_of(request)
        return sheet_file(write_swatch_sheet(paper, (), "Swatches", kind), kind, f"swatches-{paper}")


class SwatchSheetView(APIView):
    """The same with a place for every stick of a tray."""

    @extend_schema(parameters=[_SIZE, KIND], responses=SHEETS)
    def get(self, request: Request, tray_id: UUID) -> HttpResponse:
        paper = one_of(request, "paper", papers(), "A4")
        kind = kind_of(request)
        data, name = boxes.swatch_sheet(artist(request), tray_id, paper, kind)
        return sheet_file(data, kind, name)


class StickListView(APIView):
    """A list of sticks read: each row with what was guessed and what is wrong. Nothing is stored."""

    @extend_schema(request=AskList, responses=StickList)
    def post(self, request: Request) -> Response:
        return answer(StickList, boxes.read(artist(request), asked(AskList, request)))


class StickListFileView(APIView):
    """A file with sticks, as a list that can be read: spreadsheets, palettes, CGATS.17, CxF3, or text."""

    parser_classes = [MultiPartParser]
    throttle_classes = [ScopedRateThrottle]
    throttle_scope = "upload"

    @extend_schema(request=UploadSerializer, responses=ListFile)
    def post(self, request: Request) -> Response:
        artist(request)
        return answer(ListFile, boxes.file(uploaded(request, MAX_BYTES)))


_PAPER = OpenApiParameter("paper", str, description="The usual one of the medium if none is named.")


class StandInsView(APIView):
    """What stands in for a stick of a tray, in every box and range known, by what it does over skin."""

    @extend_schema(
        parameters=[OpenApiParameter("code", str, required=True, examples=[OpenApiExample("Example", "G01")]), _PAPER],
        responses={(200, "application/json"): list[StandIn]},
    )
    def get(self, request: Request, tray_id: UUID) -> Response:
        code, paper = request.query_params.get("code", ""), request.query_params.get("paper", "")
        return answer(list[StandIn], boxes.stand_ins(artist(request), tray_id, code, paper))


class MixedView(APIView):
    """The best mix of the other sticks of a tray in the place of one."""

    @extend_schema(
        parameters=[OpenApiParameter("code", str, required=True, examples=[OpenApiExample("Example", "G01")]), _PAPER],
        responses=Mixed,
    )
    def get(self, request: Request, tray_id: UUID) -> Response:
        code, paper = request.query_params.get("code", ""), request.query_params.get("paper", "")
        return answer(Mixed, boxes.mixed(artist(request), tray_id, code, paper))


class ShiftsView(APIView):
    """Colours that are like one, but a little lighter, darker, …"""

    @extend_schema(
        parameters=[OpenApiParameter("hex", str, required=True, examples=[OpenApiExample("Example", "8a4b2f")])],
        responses={(200, "application/json"): list[ShiftedColour]},
    )
    def get(self, request: Request) -> Response:
        artist(request)
        return answer(list[ShiftedColour], boxes.shifts(request.query_params.get("hex", "")))


class LessonView(APIView):
    """Somebody's list of sticks, with one's own for each."""

    @extend_schema(request=AskList, parameters=[_PAPER], responses={(200, "application/json"): list[ForLesson]})
    def post(self, request: Request, tray_id: UUID) -> Response:
        paper = request.query_params.get("paper", "")
        return answer(list[ForLesson], boxes.lesson(artist(request), tray_id, asked(AskList, request), paper))
