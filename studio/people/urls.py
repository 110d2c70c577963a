"""The people of a studio."""

from django.urls import path

from studio.people import views

app_name = "people"
urlpatterns = [
    path("people/", views.people, name="people"),
    path("people/act/", views.act, name="act"),
    path("join/<str:key>/", views.come, name="join"),
    path("new-studio/", views.begin, name="begin"),
]
