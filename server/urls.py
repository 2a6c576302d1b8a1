"""All addresses: the API, the one-time link, and the application itself for everything else."""

from django.urls import include, path, re_path

from server.accounts.views import enter
from server.api.views import application, unknown_endpoint

urlpatterns = [
    path("api/", include("server.accounts.urls")),
    path("api/", include("server.materials.urls")),
    path("api/", include("server.pieces.urls")),
    re_path(r"^api(/.*)?$", unknown_endpoint),
    path("enter/<str:token>", enter),
    re_path(r"^(?!static/).*$", application),
]
handler404 = "server.api.errors.not_found"
handler500 = "server.api.errors.broken"
