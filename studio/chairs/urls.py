"""The addresses of the Chairs view."""

from django.urls import path

from studio.chairs import views

app_name = "chairs"
urlpatterns = [
    path("chairs/", views.chairs, name="chairs"),
    path("chairs/clashes/", views.clashes, name="clashes"),
    path("chairs/time-zone/", views.time_zone, name="time-zone"),
]
