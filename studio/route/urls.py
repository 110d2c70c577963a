"""The route's addresses."""

from django.urls import path

from studio.route import views

app_name = "route"
urlpatterns = [
    path("<int:visit_id>/route/", views.route, name="route"),
    path("<int:visit_id>/plan/", views.plan, name="plan"),
    path("<int:visit_id>/route/choose/", views.choose, name="choose"),
    path("<int:visit_id>/route/sign/", views.sign, name="sign"),
    path("<int:visit_id>/route/fill/", views.fill, name="fill"),
    path("<int:visit_id>/route/toner/", views.toner, name="toner"),
]
