"""The shelf's addresses."""

from django.urls import path

from studio.shelf import views

app_name = "shelf"
urlpatterns = [
    path("house/", views.house, name="house"),
    path("house/lines/<int:line_id>/", views.line, name="line"),
]
