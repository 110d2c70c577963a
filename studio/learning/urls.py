"""Learning's addresses."""

from django.urls import path

from studio.learning import views

app_name = "learning"
urlpatterns = [
    path("learned/", views.learned, name="learned"),
    path("learned/now/", views.learning, name="learning"),
    path("learned/switch/", views.switch, name="switch"),
    path("learned/records/<slug:key>/", views.record, name="record"),
    path("visits/<int:visit_id>/lasted/", views.lasted, name="lasted"),
    path("learned/clients/<int:client_id>/", views.client, name="client"),
]
