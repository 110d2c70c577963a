"""The addresses of the Chairs view."""

from django.urls import path

from studio.chairs import lock_views, views

app_name = "chairs"
urlpatterns = [
    path("chairs/", views.chairs, name="chairs"),
    path("chairs/clashes/", views.clashes, name="clashes"),
    path("chairs/time-zone/", views.time_zone, name="time-zone"),
    path("lock/", lock_views.lock, name="lock"),
    path("locked/", lock_views.locked, name="locked"),
    path("locked/unlock/", lock_views.unlock, name="unlock"),
    path("locked/off/", lock_views.come_off, name="come-off"),
]
