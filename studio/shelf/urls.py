"""The shelf's addresses."""

from django.urls import path

from studio.shelf import house_views, list_views, views

app_name = "shelf"
urlpatterns = [
    path("shelf/", views.shelf, name="shelf"),
    path("shelf/add/", list_views.add, name="add"),
    path("shelf/lists/<int:list_id>/undo/", list_views.undo, name="undo"),
    path("shelf/tubes/<int:shade_id>/", views.tube, name="tube"),
    path("shelf/tubes/<int:shade_id>/off/", views.off, name="off"),
    path("house/", house_views.house, name="house"),
    path("house/lines/<int:line_id>/", house_views.line, name="line"),
]
