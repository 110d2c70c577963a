"""The addresses of archives."""

from django.urls import path

from studio.archives import views

app_name = "archives"
urlpatterns = [
    path("archive/", views.archive, name="archive"),
    path("archive/schema.json", views.schema, name="schema"),
    path("archive/bring/", views.bring, name="bring"),
    path("archive/<int:transfer_id>/", views.transfer, name="transfer"),
    path("archive/<int:transfer_id>/parts/<int:number>/", views.part, name="part"),
    path("archive/<int:transfer_id>/studio.zip", views.fetch, name="fetch"),
    path("archive/<int:transfer_id>/drop/", views.let_go, name="drop"),
]
