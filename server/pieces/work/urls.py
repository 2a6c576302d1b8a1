from django.urls import path

from server.pieces.work import views

urlpatterns = [
    path("pieces/<uuid:piece_id>/sheet", views.SheetView.as_view()),
    path("pieces/<uuid:piece_id>/work", views.WorkView.as_view()),
]
