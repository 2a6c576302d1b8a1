from django.urls import path

from server.personal import views

urlpatterns = [
    path("trays/<uuid:tray_id>/uses", views.UsesView.as_view()),
    path("trays/<uuid:tray_id>/runs-out", views.RunsOutView.as_view()),
    path("trays/<uuid:tray_id>/to-buy", views.BuyView.as_view()),
    path("trays/<uuid:tray_id>/cheapest", views.CheapestView.as_view()),
    path("notebook", views.NotebookView.as_view()),
    path("notebook/use", views.UseAgainView.as_view()),
    path("pieces/<uuid:piece_id>/file", views.PieceFileView.as_view()),
    path("trays/<uuid:tray_id>/bundle", views.TrayBundleView.as_view()),
    path("practice/file", views.PracticeFileView.as_view()),
    path("bundles", views.BundlesView.as_view()),
    path("account/space", views.SpaceView.as_view()),
    path("account/export", views.ExportView.as_view()),
    path("removed", views.RemovedView.as_view()),
    path("removed/<uuid:removed_id>", views.RemovedThingView.as_view()),
    path("account/farewell", views.AccountView.as_view()),
]
