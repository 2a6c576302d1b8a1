from django.urls import include, path

urlpatterns = [
    path("", include(f"server.pieces.{drawer}.urls")) for drawer in ("piece", "look", "mix", "layers", "work", "trying")
]
