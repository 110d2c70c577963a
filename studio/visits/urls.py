"""A visit's addresses."""

from django.urls import path

from studio.visits import consult_views, read_views, views

app_name = "visits"
urlpatterns = [
    path("start/<int:client_id>/", views.start, name="start"),
    path("<int:visit_id>/consult/", consult_views.consult, name="consult"),
    path("<int:visit_id>/consult/past/", consult_views.past, name="past"),
    path("<int:visit_id>/consult/skin-test/", consult_views.skin_test, name="skin-test"),
    path("<int:visit_id>/hand-over/", views.hand_on, name="hand-over"),
    path("<int:visit_id>/read/", views.read, name="read"),
    path("<int:visit_id>/read/reader/", read_views.read_by_reader, name="reader"),
    path("<int:visit_id>/read/school/", read_views.choose_school, name="school"),
    path("<int:visit_id>/read/zone/", read_views.add, name="add-zone"),
    path("<int:visit_id>/read/zones/", read_views.zones, name="zones"),
    path("<int:visit_id>/read/place/", read_views.place, name="place"),
]
