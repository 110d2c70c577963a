"""Signing in and out."""

from django.contrib.auth.views import LogoutView
from django.urls import path

from studio.accounts.views import ChangePassword, SignIn, pulse

urlpatterns = [
    path("sign-in/", SignIn.as_view(), name="sign-in"),
    path("password/", ChangePassword.as_view(), name="password"),
    path("pulse/", pulse, name="pulse"),
    path("sign-out/", LogoutView.as_view(), name="sign-out"),
]
