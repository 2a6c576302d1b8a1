from django.urls import path

from server.pictures import views

urlpatterns = [
    path("pictures", views.PicturesView.as_view()),
    path("pictures/<uuid:picture_id>", views.PictureView.as_view()),
    path("pictures/<uuid:picture_id>/near", views.NearView.as_view()),
    path("pictures/<uuid:picture_id>/patch", views.PatchView.as_view()),
    path("pictures/<uuid:picture_id>/sheet", views.SheetView.as_view()),
    path("pictures/<uuid:picture_id>/squared", views.SquaredView.as_view()),
]
