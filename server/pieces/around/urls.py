from django.urls import path

from server.pieces.around import views

urlpatterns = [
    path("pieces/<uuid:piece_id>/around", views.AroundView.as_view()),
    path("pieces/<uuid:piece_id>/around/picture", views.AroundPictureView.as_view()),
]
