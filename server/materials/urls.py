from django.urls import path

from server.materials import views

urlpatterns = [
    path("materials", views.MaterialsView.as_view()),
    path("methods", views.MethodsView.as_view()),
    path("methods/<uuid:method_id>", views.MethodView.as_view()),
    path("methods/<str:method_id>/file", views.MethodFileView.as_view()),
    path("papers", views.PapersView.as_view()),
    path("papers/<uuid:paper_id>", views.PaperView.as_view()),
    path("papers/<str:paper_id>/tooth", views.ToothView.as_view()),
    path("ranges/<str:range_id>", views.RangeView.as_view()),
    path("trays", views.TraysView.as_view()),
    path("trays/<uuid:tray_id>", views.TrayView.as_view()),
    path("trays/<uuid:tray_id>/sticks", views.SticksView.as_view()),
    path("trays/<uuid:tray_id>/away", views.AwayView.as_view()),
    path("trays/<uuid:tray_id>/order", views.OrderView.as_view()),
    path("trays/<uuid:tray_id>/move", views.MoveView.as_view()),
    path("trays/<uuid:tray_id>/undo", views.TrayUndoView.as_view()),
    path("trays/<uuid:tray_id>/redo", views.TrayRedoView.as_view()),
    path("trays/<uuid:tray_id>/file", views.TrayFileView.as_view()),
    path("trays/<uuid:tray_id>/swatch-sheet", views.SwatchSheetView.as_view()),
    path("trays/<uuid:tray_id>/stand-ins", views.StandInsView.as_view()),
    path("trays/<uuid:tray_id>/lesson", views.LessonView.as_view()),
    path("swatch-sheet", views.EmptySheetView.as_view()),
    path("trays/<uuid:tray_id>/mixed", views.MixedView.as_view()),
    path("shifts", views.ShiftsView.as_view()),
    path("stick-list", views.StickListView.as_view()),
    path("stick-list/file", views.StickListFileView.as_view()),
]
