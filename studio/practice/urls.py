"""The practice room's addresses."""

from django.urls import path

from studio.practice import views

app_name = "practice"
urlpatterns = [
    path("practice/", views.practice, name="practice"),
    path("practice/people/", views.mentor, name="mentor"),
    path("practice/guesses/", views.guesses, name="guesses"),
    path("practice/start/", views.start, name="start"),
    path("practice/drills/<int:drill_id>/", views.drill, name="drill"),
    path("practice/drills/<int:drill_id>/pour/", views.pour, name="pour"),
    path("practice/drills/<int:drill_id>/reply/", views.reply, name="reply"),
]
