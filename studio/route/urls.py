"""The route's addresses."""

from django.urls import path

from studio.route import head_views, plan_views, talk_views, views

app_name = "route"
urlpatterns = [
    path("<int:visit_id>/route/", views.route, name="route"),
    path("<int:visit_id>/plan/", plan_views.plan, name="plan"),
    path("<int:visit_id>/plan/begin/", plan_views.begin, name="begin"),
    path("<int:visit_id>/plan/step/", plan_views.step, name="step"),
    path("<int:visit_id>/plan/agree/", plan_views.agree_to, name="agree"),
    path("<int:visit_id>/plan/hands/", plan_views.hands, name="hands"),
    path("<int:visit_id>/plan/bowl/", plan_views.fill_bowl, name="bowl"),
    path("<int:visit_id>/route/choose/", views.choose, name="choose"),
    path("<int:visit_id>/route/heads/", head_views.heads, name="heads"),
    path("<int:visit_id>/route/heads/aim/", head_views.aim_there, name="aim-there"),
    path("<int:visit_id>/route/gate/", views.gate, name="gate"),
    path("<int:visit_id>/route/fill/", views.fill, name="fill"),
    path("<int:visit_id>/route/toner/", views.toner, name="toner"),
    path("<int:visit_id>/talk/", talk_views.talk, name="talk"),
    path("<int:visit_id>/talk/wear/", talk_views.wear, name="wear"),
    path("<int:visit_id>/talk/photo.jpg", talk_views.on_photo, name="talk-photo"),
    path("<int:visit_id>/route/lines/", views.lines, name="lines"),
    path("<int:visit_id>/route/line/", views.take_line, name="line"),
]
