"""Addresses of counting the shelf on the scale."""

from django.urls import path

from studio.pour import count_views

app_name = "count"
urlpatterns = [
    path("<int:shade_id>/scale/", count_views.counting, name="counting"),
]
