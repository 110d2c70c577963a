"""The logbook's addresses."""

from django.urls import path

from studio.cards import views

app_name = "cards"
urlpatterns = [
    path("", views.cards, name="list"),
    path("clients/<int:client_id>/", views.card, name="card"),
    path("visits/<int:visit_id>/aims/", views.aims, name="aims"),
    path("visits/<int:visit_id>/last/", views.last, name="last"),
    path("formulas/<int:formula_id>/repeat/", views.repeat, name="repeat"),
    path("formulas/<int:formula_id>/again/", views.again, name="again"),
    path("formulas/compare/", views.compare, name="compare"),
]
