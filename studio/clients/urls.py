"""Clients' addresses."""

from django.urls import path

from studio.clients import views

app_name = "clients"
urlpatterns = [
    path("new/", views.new, name="new"),
    path("<int:client_id>/edit/", views.edit, name="edit"),
]
