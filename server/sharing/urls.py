from django.urls import path

from server.sharing import views

urlpatterns = [
    path("pieces/<uuid:piece_id>/shares", views.SharesView.as_view()),
    path("shares/<uuid:link_id>", views.ShareView.as_view()),
]
