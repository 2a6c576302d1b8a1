from django.urls import path

from server.pieces.layers import views

urlpatterns = [
    path("pieces/<uuid:piece_id>/layers/plans", views.PlansView.as_view()),
    path("pieces/<uuid:piece_id>/layers/fitted", views.FittedView.as_view()),
    path("pieces/<uuid:piece_id>/layers/accent", views.AccentView.as_view()),
    path("pieces/<uuid:piece_id>/layers/sticks", views.OtherSticksView.as_view()),
    path("pieces/<uuid:piece_id>/layers/maps", views.MapsView.as_view()),
    path("pieces/<uuid:piece_id>/layers/picture", views.MappedPictureView.as_view()),
    path("pieces/<uuid:piece_id>/layers/sketch", views.SketchView.as_view()),
    path("pieces/<uuid:piece_id>/layers/map", views.LayerMapView.as_view()),
]
