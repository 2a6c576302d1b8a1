from django.urls import path

from server.materials import views

urlpatterns = [
    path("materials", views.MaterialsView.as_view()),
    path("papers", views.PapersView.as_view()),
    path("papers/<uuid:paper_id>", views.PaperView.as_view()),
    path("papers/<str:paper_id>/tooth", views.ToothView.as_view()),
    path("trays", views.TraysView.as_view()),
    path("trays/<uuid:tray_id>", views.TrayView.as_view()),
    path("trays/<uuid:tray_id>/ranges", views.TrayRangesView.as_view()),
]
