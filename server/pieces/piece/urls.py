from django.urls import path

from server.pieces.piece import views

urlpatterns = [
    path("pieces", views.PiecesView.as_view()),
    path("at-hand", views.AtHandView.as_view()),
    path("pieces/<uuid:piece_id>", views.PieceView.as_view()),
    path("pieces/<uuid:piece_id>/undo", views.UndoView.as_view()),
    path("pieces/<uuid:piece_id>/redo", views.RedoView.as_view()),
    path("pieces/<uuid:piece_id>/solve", views.SolveView.as_view()),
    path("pieces/<uuid:piece_id>/layers", views.LayersView.as_view()),
    path("pieces/<uuid:piece_id>/layers/take", views.TakeLayersView.as_view()),
    path("pieces/<uuid:piece_id>/imagine", views.ImagineView.as_view()),
    path("pieces/<uuid:piece_id>/plan", views.PlanFileView.as_view()),
    path("pieces/<uuid:piece_id>/plan/pages", views.PlanPagesView.as_view()),
    path("pieces/<uuid:piece_id>/layers/pictures", views.PicturesFileView.as_view()),
    path("pieces/<uuid:piece_id>/forecast", views.ForecastView.as_view()),
]
