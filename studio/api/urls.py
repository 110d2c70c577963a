"""Addresses of programs, and of the page of their keys."""

from typing import Final

from django.urls import include, path

from studio.api import views
from studio.api.routes import api

_OURS, _APP, _NAMESPACE = api.urls
for _each in _OURS:
    _each.callback.login_required = False  # type: ignore[union-attr]  # a key opens them, and nobody's session
PAGES: Final = [path("", views.programs, name="programs"), path("<int:key_id>/end/", views.end, name="end")]

urlpatterns = [
    path("api/1/openapi.json", views.description, name="openapi"),
    path("api/1/", (_OURS, _APP, _NAMESPACE)),
    path("programs/", include((PAGES, "programs"))),
]
