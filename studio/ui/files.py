"""Files that are handed over for keeping."""

from django.http import HttpResponse
from django.utils.http import content_disposition_header
from django.utils.text import slugify


def a_file(body: bytes | str, kind: str, name: str) -> HttpResponse:
    """A file to keep, by a name that any system can have."""
    headers = {"Content-Disposition": content_disposition_header(as_attachment=True, filename=name) or "attachment"}
    return HttpResponse(body, content_type=kind, headers=headers)


def named(words: str) -> str:
    """A name of a person as a file can have it, in its own letters."""
    return slugify(words, allow_unicode=True) or "card"
