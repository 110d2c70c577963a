"""A visit's addresses."""

from django.urls import path

from studio.visits import views

app_name = "visits"
urlpatterns = [
    path("start/<int:client_id>/", views.start, name="start"),
    path("<int:visit_id>/read/", views.read, name="read"),
]
