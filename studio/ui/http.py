"""Small pieces of request and response that every view needs."""

import csv
import io
from collections.abc import Iterable, Sequence
from typing import Final

from django.http import HttpRequest, HttpResponse
from django.views.decorators.http import require_http_methods

from studio.accounts.models import Person
from studio.ui.cells import safe_cell

# A page that is also changed at its own address. HEAD is a GET without its body.
page_and_change: Final = require_http_methods(["GET", "HEAD", "POST"])


def signed_in(request: HttpRequest) -> Person:
    """The person who asks; the middleware has turned everyone else away."""
    if not isinstance(request.user, Person):
        raise TypeError("a view that needs a person was reached without one")
    return request.user


def wants_fragment(request: HttpRequest) -> bool:
    """Whether htmx asks, and will swap a part of the page."""
    return request.headers.get("HX-Request") == "true"


def csv_answer(name: str, rows: Iterable[Sequence[object]]) -> HttpResponse:
    """Rows as a CSV file of that name, no cell of which a spreadsheet takes for a formula."""
    text = io.StringIO()
    csv.writer(text).writerows([safe_cell(str(cell)) for cell in row] for row in rows)
    headers = {"Content-Disposition": f'attachment; filename="{name}.csv"'}
    return HttpResponse(text.getvalue(), content_type="text/csv; charset=utf-8", headers=headers)
