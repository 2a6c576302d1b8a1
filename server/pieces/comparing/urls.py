from django.urls import path

from server.pieces.comparing import views

urlpatterns = [
    path("pieces/<uuid:piece_id>/comparisons", views.ComparisonsView.as_view()),
    path("comparisons/<uuid:comparison_id>", views.ComparisonView.as_view()),
    path("comparisons/<uuid:comparison_id>/advice", views.AdviceView.as_view()),
    path("comparisons/<uuid:comparison_id>/taught", views.TaughtView.as_view()),
    path("comparisons/<uuid:comparison_id>/sheet", views.ComparisonSheetView.as_view()),
    path("comparisons/<uuid:comparison_id>/file", views.ComparisonFileView.as_view()),
    path("comparisons/<uuid:comparison_id>/picture", views.ComparedPictureView.as_view()),
    path("comparisons/<uuid:comparison_id>/corrections/<int:number>", views.CorrectionPictureView.as_view()),
]
