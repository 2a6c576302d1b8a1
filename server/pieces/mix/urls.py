from django.urls import path

from server.pieces.mix import views

urlpatterns = [
    path("pieces/<uuid:piece_id>/predict", views.PredictView.as_view()),
    path("pieces/<uuid:piece_id>/prepare", views.PrepareView.as_view()),
    path("pieces/<uuid:piece_id>/answers", views.AnswersView.as_view()),
    path("pieces/<uuid:piece_id>/figures", views.FiguresView.as_view()),
    path("pieces/<uuid:piece_id>/ramps", views.RampsFileView.as_view()),
    path("pieces/<uuid:piece_id>/palette", views.PaletteView.as_view()),
    path("pieces/<uuid:piece_id>/missing", views.MissingView.as_view()),
    path("pieces/<uuid:piece_id>/context", views.ContextView.as_view()),
    path("jobs/<str:job_key>", views.JobView.as_view()),
]
