from django.urls import path

from server.accounts.views import PasswordView, SessionView

urlpatterns = [path("session", SessionView.as_view()), path("session/password", PasswordView.as_view())]
