"""What went wrong, for programs: problem details. Source: [RFC9457]."""

import json
from typing import Final

from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase

KIND: Final = "application/problem+json"
TITLES: Final = {
    400: "The request can't be read",
    401: "No key, or one that opens nothing",
    403: "The key may not read this",
    404: "There is no such thing",
    405: "This address is asked in another way",
    413: "The request is too long",
    415: "The request is not JSON",
    422: "The request can't be answered",
    429: "Asked too often",
    500: "A fault of ours",
    503: "The database rests",
}


def problem(status: int, detail: str, **more: object) -> HttpResponse:
    """An answer that tells what went wrong. more: further members, such as `field` and `code`."""
    told = {"type": "about:blank", "title": TITLES.get(status, "It went wrong"), "status": status, "detail": detail}
    return HttpResponse(json.dumps(told | more, ensure_ascii=False), status=status, content_type=KIND)


def as_problem(request: HttpRequest, answer: HttpResponseBase) -> HttpResponseBase:
    """An answer as it is, or, where it is a page that tells what went wrong, the same for a program."""
    if answer.status_code < 400 or answer.headers.get("Content-Type") == KIND:
        return answer
    told = problem(answer.status_code, f"{request.method} {request.path}")
    for name in ("Allow", "Retry-After", "WWW-Authenticate"):
        if name in answer.headers:
            told[name] = answer.headers[name]
    return told
