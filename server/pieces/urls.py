from django.urls import include, path

DRAWERS = ("piece", "look", "mix", "layers", "work", "trying", "comparing", "around")
urlpatterns = [path("", include(f"server.pieces.{drawer}.urls")) for drawer in DRAWERS]
