"""What was changed."""

from django.urls import path

from studio.trace import views

app_name = "trace"
urlpatterns = [
    path("clients/<int:client_id>/trace/", views.of_client, name="client"),
    path("clients/<int:client_id>/trace/back/", views.back, name="back"),
    path("people/trace/", views.of_house, name="house"),
]
