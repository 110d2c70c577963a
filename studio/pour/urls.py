"""Pour's addresses."""

from django.urls import path

from studio.pour import views

app_name = "pour"
urlpatterns = [
    path("<int:visit_id>/pour/", views.pour, name="pour"),
    path("<int:visit_id>/pour/weigh/", views.weigh_line, name="weigh"),
    path("<int:visit_id>/pour/line/", views.line, name="line"),
    path("<int:visit_id>/pour/keep/", views.keep, name="keep"),
    path("<int:visit_id>/pour/mix/", views.mix, name="mix"),
    path("<int:visit_id>/pour/mixing/", views.mixing, name="mixing"),
    path("<int:visit_id>/pour/gate/", views.gate, name="gate"),
]
