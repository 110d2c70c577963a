"""Addresses of the head as it is seen."""

from django.urls import path

from studio.portrait import views

app_name = "portrait"
urlpatterns = [
    path("<int:visit_id>/head/", views.head, name="head"),
    path("<int:visit_id>/head/photo/", views.photo, name="photo"),
    path("<int:visit_id>/head/photo/take/", views.take, name="take"),
    path("<int:visit_id>/head/photo/stroke/", views.stroke, name="stroke"),
    path("<int:visit_id>/head/photo/settle/", views.settle, name="settle"),
    path("<int:visit_id>/head/photo/taken.jpg", views.as_taken, name="taken"),
    path("<int:visit_id>/head/photo/seen.jpg", views.laid_on, name="seen"),
    path("<int:visit_id>/head/photo/seen.png", views.laid_on, name="seen-whole"),
    path("<int:visit_id>/head/photo/hair.png", views.matte, name="matte"),
]
