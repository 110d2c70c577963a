"""The addresses of tubes that are read."""

from django.urls import path

from studio.readings import views

app_name = "readings"
urlpatterns = [
    path("<int:shade_id>/strands/photo/", views.sheet, name="sheet"),
    path("sheets/<int:sheet_id>/", views.note, name="note"),
    path("sheets/<int:sheet_id>.jpg", views.picture, name="picture"),
    path("<int:shade_id>/swatch/", views.swatch, name="swatch"),
    path("<int:shade_id>/spectrum/", views.spectrum, name="spectrum"),
    path("lines/<int:line_id>/spectra.zip", views.spectra, name="spectra"),
]
