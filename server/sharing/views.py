"""Links to plans over HTTP, and the pages behind them, for whoever has the link."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from server.api.requests import artist
from server.api.values import answer, asked
from server.sharing import services
from server.sharing.values import AskShare, SharedLink

_HEADERS = {"Cache-Control": "private, no-store", "Referrer-Policy": "no-referrer", "X-Robots-Tag": "noindex"}


class SharesView(APIView):
    """Links to the plan of a piece."""

    @extend_schema(responses={(200, "application/json"): list[SharedLink]})
    def get(self, request: Request, piece_id: UUID) -> Response:
        return answer(list[SharedLink], services.links(artist(request), piece_id))

    @extend_schema(request=AskShare, responses={201: SharedLink})
    def post(self, request: Request, piece_id: UUID) -> Response:
        """Makes one; it shows the plan as it is now."""
        return answer(SharedLink, services.share(artist(request), piece_id, asked(AskShare, request)), 201)


class ShareView(APIView):
    """One link."""

    @extend_schema(responses={204: None})
    def delete(self, request: Request, link_id: UUID) -> Response:
        """Takes it back at once."""
        services.take_back(artist(request), link_id)
        return Response(status=204)


@require_safe
def page(request: HttpRequest, token: str) -> HttpResponse:
    """The page of a plan, readable without script."""
    plan = services.opened(token)
    if plan is None:
        return _headed(render(request, "sharing/gone.html", status=404))
    return _headed(render(request, "sharing/plan.html", {"plan": plan.page, "token": token, "shared": plan}))


@require_safe
def picture(request: HttpRequest, token: str, number: int) -> HttpResponse:
    """A picture on that page."""
    data = services.picture(token, number)
    if data is None:
        return _headed(HttpResponse("There is nothing here.", status=404, content_type="text/plain"))
    return _headed(HttpResponse(data, content_type="image/jpeg"))


def _headed(answer: HttpResponse) -> HttpResponse:
    for name, said in _HEADERS.items():
        answer.headers[name] = said
    return answer
