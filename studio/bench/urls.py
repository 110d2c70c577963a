"""The Bench's addresses."""

from django.urls import path

from studio.bench import views

app_name = "bench"
urlpatterns = [
    path("<int:visit_id>/bench/", views.bench, name="bench"),
    path("<int:visit_id>/bench/pour/", views.pour_shade, name="pour"),
    path("<int:visit_id>/bench/aim/", views.set_aim, name="aim"),
    path("<int:visit_id>/bench/wanted/", views.set_wanted, name="wanted"),
    path("<int:visit_id>/bench/take/", views.take_answer, name="take"),
    path("<int:visit_id>/bench/line/", views.set_line, name="line"),
    path("<int:visit_id>/bench/walk/", views.walk, name="walk"),
    path("plane/<int:depth>.svg", views.plane_dots, name="plane"),
]
