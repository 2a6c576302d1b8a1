from django.urls import path

from server.pieces.look import views

urlpatterns = [
    path("pieces/<uuid:piece_id>/study", views.StudyView.as_view()),
    path("pieces/<uuid:piece_id>/suggest", views.SuggestView.as_view()),
    path("pieces/<uuid:piece_id>/measure", views.MeasureView.as_view()),
    path("pieces/<uuid:piece_id>/view", views.SeeingView.as_view()),
    path("pieces/<uuid:piece_id>/transfer/sheet", views.TransferSheetView.as_view()),
]
