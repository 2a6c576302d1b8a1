from django.urls import path

from server.trials import views

urlpatterns = [
    path("cards/<uuid:card_id>", views.CardView.as_view()),
    path("cards/<uuid:card_id>/sheet", views.CardSheetView.as_view()),
    path("cards/<uuid:card_id>/photos", views.PhotosView.as_view()),
    path("card-photos/<uuid:photo_id>", views.PhotoView.as_view()),
]
