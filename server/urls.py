"""All addresses: the API, the page of a one-time link, plans shown to others, and the application itself for everything
else."""

from django.urls import include, path, re_path

from server.api import reference
from server.api.views import application, entrance, letters, unknown_endpoint
from server.sharing.views import page, picture

urlpatterns = [
    path("api/", include("server.accounts.urls")),
    path("api/", include("server.pictures.urls")),
    path("api/", include("server.imagined.urls")),
    path("api/", include("server.materials.urls")),
    path("api/", include("server.trials.urls")),
    path("api/", include("server.pieces.urls")),
    path("api/", include("server.practice.urls")),
    path("api/", include("server.sharing.urls")),
    path("api/", include("server.personal.urls")),
    path("reference", reference.page),
    path("openapi.yaml", reference.file),
    path("letters.css", letters),
    re_path(r"^api(/.*)?$", unknown_endpoint),
    path("enter/<str:token>", entrance),
    path("shared/<str:token>", page),
    path("shared/<str:token>/<int:number>.jpg", picture),
    re_path(r"^(?!static/).*$", application),
]
handler400 = "server.api.errors.bad_request"
handler404 = "server.api.errors.not_found"
handler500 = "server.api.errors.broken"
