from django.urls import path

from server.accounts import views

urlpatterns = [
    path("session", views.SessionView.as_view()),
    path("session/link", views.LinkView.as_view()),
    path("session/password", views.PasswordView.as_view()),
    path("sessions", views.SessionsView.as_view()),
    path("sessions/<str:session_id>", views.OneSessionView.as_view()),
]
