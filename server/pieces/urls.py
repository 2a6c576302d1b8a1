from django.urls import path

from server.pieces import views

urlpatterns = [
    path("pieces", views.PiecesView.as_view()),
    path("pieces/<uuid:piece_id>", views.PieceView.as_view()),
    path("pieces/<uuid:piece_id>/undo", views.UndoView.as_view()),
    path("pieces/<uuid:piece_id>/redo", views.RedoView.as_view()),
    path("pieces/<uuid:piece_id>/solve", views.SolveView.as_view()),
    path("pieces/<uuid:piece_id>/predict", views.PredictView.as_view()),
    path("pieces/<uuid:piece_id>/sheet", views.SheetView.as_view()),
    path("pieces/<uuid:piece_id>/prepare", views.PrepareView.as_view()),
    path("pieces/<uuid:piece_id>/answers", views.AnswersView.as_view()),
    path("pieces/<uuid:piece_id>/figures", views.FiguresView.as_view()),
    path("pieces/<uuid:piece_id>/palette", views.PaletteView.as_view()),
    path("pieces/<uuid:piece_id>/missing", views.MissingView.as_view()),
    path("pieces/<uuid:piece_id>/context", views.ContextView.as_view()),
    path("pieces/<uuid:piece_id>/forecast", views.ForecastView.as_view()),
    path("pieces/<uuid:piece_id>/study", views.StudyView.as_view()),
    path("pieces/<uuid:piece_id>/suggest", views.SuggestView.as_view()),
    path("pieces/<uuid:piece_id>/measure", views.MeasureView.as_view()),
    path("pieces/<uuid:piece_id>/view", views.SeeingView.as_view()),
    path("pieces/<uuid:piece_id>/transfer", views.TransferView.as_view()),
    path("pictures", views.PicturesView.as_view()),
    path("pictures/<uuid:picture_id>", views.PictureView.as_view()),
    path("pictures/<uuid:picture_id>/patch", views.PatchView.as_view()),
]
