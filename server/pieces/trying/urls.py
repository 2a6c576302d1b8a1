from django.urls import path

from server.pieces.trying import views

urlpatterns = [
    path("pieces/<uuid:piece_id>/cards", views.CardsView.as_view()),
    path("pieces/<uuid:piece_id>/cards/taken-back", views.TakenBackView.as_view()),
]
