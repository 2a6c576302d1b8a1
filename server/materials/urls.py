from django.urls import path

from server.materials.views import MaterialsView, TraysView, TrayView

urlpatterns = [
    path("materials", MaterialsView.as_view()),
    path("trays", TraysView.as_view()),
    path("trays/<uuid:tray_id>", TrayView.as_view()),
]
