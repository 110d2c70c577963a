"""Addresses, by app in the order of work."""

from django.urls import include, path

urlpatterns = [
    path("", include("studio.accounts.urls")),
    path("", include("studio.people.urls")),
    path("", include("studio.trace.urls")),
    path("", include("studio.cards.urls")),
    path("", include("studio.chairs.urls")),
    path("", include("studio.formats.urls")),
    path("", include("studio.archives.urls")),
    path("", include("studio.api.urls")),
    path("", include("studio.supplies.urls")),
    path("", include("studio.shelf.urls")),
    path("", include("studio.learning.urls")),
    path("", include("studio.practice.urls")),
    path("", include("studio.looks.urls")),
    path("shelf/tubes/", include("studio.pour.count_urls")),
    path("shelf/tubes/", include("studio.readings.urls")),
    path("clients/", include("studio.clients.urls")),
    path("visits/", include("studio.visits.urls")),
    path("visits/", include("studio.bench.urls")),
    path("visits/", include("studio.portrait.urls")),
    path("visits/", include("studio.pour.urls")),
    path("visits/", include("studio.clocks.urls")),
    path("visits/", include("studio.route.urls")),
    path("visits/", include("studio.result.urls")),
]

handler404 = "studio.ui.views.not_found"
handler500 = "studio.ui.views.broken"
