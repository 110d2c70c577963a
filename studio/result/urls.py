"""The result's addresses."""

from django.urls import path

from studio.result import care_views, spot_views, views

app_name = "result"
urlpatterns = [
    path("<int:visit_id>/result/", views.result, name="result"),
    path("<int:visit_id>/result/judge/", views.judge, name="judge"),
    path("<int:visit_id>/result/photo/", views.photo, name="photo"),
    path("<int:visit_id>/result/tweak/", views.tweak, name="tweak"),
    path("<int:visit_id>/result/fixes/", views.fixes, name="fixes"),
    path("<int:visit_id>/result/keep/", views.keep, name="keep"),
    path("<int:visit_id>/care/", care_views.care, name="care"),
    path("<int:visit_id>/care/mask/", care_views.mask, name="mask"),
    path("<int:visit_id>/care/leftover/", care_views.leftover, name="leftover"),
    path("<int:visit_id>/hand-out/", care_views.handout, name="handout"),
    path("<int:visit_id>/story/", views.story, name="story"),
    path("<int:visit_id>/correct/", care_views.correct, name="correct"),
    path("<int:visit_id>/correct/spots/", spot_views.spots, name="spots"),
    path("<int:visit_id>/correct/integrity/", care_views.integrity, name="integrity"),
    path("<int:visit_id>/correct/aim/", care_views.aim_at, name="aim-at"),
]
