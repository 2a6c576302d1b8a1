"""Headers that every answer carries."""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

GetResponse = Callable[[HttpRequest], HttpResponse]

_UNUSED = ("accelerometer", "camera", "display-capture", "geolocation", "gyroscope", "microphone", "payment", "usb")


class PrivateAnswers:
    """What the API says is for one artist and one moment: no cache keeps it, unless its view says how long. The browser
    need not offer any page the devices that Caltin does not use."""

    def __init__(self, get_response: GetResponse) -> None:
        self._get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        answer = self._get_response(request)
        if request.path_info.startswith("/api"):
            answer.headers.setdefault("Cache-Control", "no-store")
        answer.headers["Permissions-Policy"] = ", ".join(f"{feature}=()" for feature in _UNUSED)
        return answer
