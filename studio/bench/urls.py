"""The Bench's addresses."""

from django.urls import path

from studio.bench import coat_views, keep_views, reading_views, views, zone_views

app_name = "bench"
urlpatterns = [
    path("<int:visit_id>/bench/", views.bench, name="bench"),
    path("<int:visit_id>/bench/pour/", views.pour_shade, name="pour"),
    path("<int:visit_id>/bench/aim/", views.set_aim, name="aim"),
    path("<int:visit_id>/bench/guess/", views.set_guess, name="guess"),
    path("<int:visit_id>/bench/wanted/", views.set_wanted, name="wanted"),
    path("<int:visit_id>/bench/take/", views.take_answer, name="take"),
    path("<int:visit_id>/bench/add/", views.add, name="add"),
    path("<int:visit_id>/bench/mix/", views.mix, name="mix"),
    path("<int:visit_id>/bench/line/", views.set_line, name="line"),
    path("<int:visit_id>/bench/walk/", views.walk, name="walk"),
    path("<int:visit_id>/bench/fixes/", views.fixes, name="fixes"),
    path("<int:visit_id>/bench/needs/", views.needs, name="needs"),
    path("<int:visit_id>/bench/gates/", views.gates, name="gates"),
    path("<int:visit_id>/save/", keep_views.save, name="save"),
    path("<int:visit_id>/bench/zones/", zone_views.change_zones, name="zones"),
    path("<int:visit_id>/bench/coats/", coat_views.change_coats, name="coats"),
    path("<int:visit_id>/bench/photo/", zone_views.send_photo, name="send-photo"),
    path("<int:visit_id>/bench/photo.jpg", zone_views.photo, name="photo"),
    path("<int:visit_id>/read/photo/", reading_views.read_photo, name="read-photo"),
    path("plane/<int:depth>.svg", views.plane_dots, name="plane"),
]
