"""The supplies' addresses."""

from django.urls import path

from studio.supplies import views

app_name = "supplies"
urlpatterns = [
    path("shelf/supplies/", views.supplies, name="supplies"),
    path("shelf/supplies/<int:supply_id>/", views.move, name="move"),
]
