"""The address of the components' page."""

from django.urls import path

from studio.looks import views

app_name = "looks"
urlpatterns = [path("looks/", views.looks, name="looks")]
