from django.urls import path

from server.imagined import views

urlpatterns = [
    path("complexions", views.ComplexionsView.as_view()),
    path("complexions/file", views.ComplexionsFileView.as_view()),
    path("complexions/<uuid:complexion_id>", views.ComplexionView.as_view()),
    path("light", views.ChoicesView.as_view()),
    path("light/picture", views.LightPictureView.as_view()),
    path("light/told", views.LightToldView.as_view()),
    path("light/map", views.LightMapView.as_view()),
]
