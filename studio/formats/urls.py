"""The addresses of files."""

from django.urls import path, register_converter

from studio.formats import feed_views, person_views, views


class CardKind:
    """The kinds of file that a card can be."""

    regex = "json|pdf|gpl|cgats|jobs|spectra"

    def to_python(self, value: str) -> str:
        """As it stands."""
        return value

    def to_url(self, value: str) -> str:
        """As it stands."""
        return value


register_converter(CardKind, "card_kind")

app_name = "formats"
urlpatterns = [
    path("clients/<int:client_id>/card.<card_kind:kind>", views.card, name="card"),
    path("clients/<int:client_id>/everything.zip", person_views.everything, name="everything"),
    path("clients/<int:client_id>/erase/", person_views.erase, name="erase"),
    path("clients/<int:client_id>/consent/", person_views.consent, name="consent"),
    path("formulas/<int:formula_id>/formula.json", views.formula, name="formula"),
    path("cards/schema.json", views.schema, name="schema"),
    path("cards/logbook.csv", views.logbook, name="logbook"),
    path("cards/take-in/", views.take, name="take"),
    path("cards/take-in/<int:intake_id>/", views.intake, name="intake"),
    path("cards/take-in/<int:intake_id>/drop/", views.drop_intake, name="drop-intake"),
    path("visits/<int:visit_id>/hand-out.pdf", views.handout, name="handout"),
    path("visits/<int:visit_id>/labels.pdf", views.labels, name="labels"),
    path("visits/<int:visit_id>/next-colourist.pdf", views.next_colourist, name="next-colourist"),
    path("calendar/", feed_views.calendar_page, name="calendar-page"),
    path("calendar/<str:key>/next-visits.ics", feed_views.visits_feed, name="feed"),
    path("clients/<int:client_id>/skin-test.pdf", views.skin_test, name="skin-test"),
    path("visits/<int:visit_id>/next-visit.ics", views.calendar, name="calendar"),
]
