"""The clocks' addresses."""

from django.urls import path

from studio.clocks import views

app_name = "clocks"
urlpatterns = [
    path("<int:visit_id>/clock/", views.clock, name="clock"),
    path("<int:visit_id>/clock/start/", views.start, name="start"),
    path("<int:visit_id>/clock/act/", views.act, name="act"),
    path("<int:visit_id>/clock/correct/", views.correct, name="correct"),
    path("<int:visit_id>/clock/gates/", views.gates, name="gates"),
    path("<int:visit_id>/clock/gate/", views.gate, name="gate"),
]
