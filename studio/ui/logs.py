"""Logs for programs: a line of JSON each, with the request that it belongs to, and nothing of a client."""

import json
import logging
import re
import time
import uuid
from collections.abc import Callable
from contextvars import ContextVar
from datetime import UTC, datetime
from typing import Final

from django.http import HttpRequest, HttpResponse

from studio.ui.metrics import note

HEADER: Final = "X-Request-ID"
LONGEST: Final = 64
_KEY: Final = re.compile(r"^(/(?:join|mail|forgotten|calendar)/)[^/]+|(rainshade_)[\w-]+")
_request_id: ContextVar[str] = ContextVar("request_id", default="")
_log = logging.getLogger("rainshade.requests")


class JsonLines(logging.Formatter):
    """A record as one line of JSON: time in UTC, level, logger, words, request, and what was said about the request."""

    def format(self, record: logging.LogRecord) -> str:
        """One line; a traceback keeps its lines inside of the string."""
        line: dict[str, object] = {
            "time": datetime.fromtimestamp(record.created, UTC).isoformat(timespec="milliseconds"),
            "level": record.levelname.lower(),
            "logger": record.name,
            "words": record.getMessage(),
        }
        if request_id := _request_id.get():
            line["request"] = request_id
        line |= getattr(record, "told", {})
        if record.exc_info:
            line["trace"] = self.formatException(record.exc_info)
        return json.dumps(line, ensure_ascii=False)


class Requests:
    """Gives each request an id, the one that a front has given it if there is one, and logs how it ended.

    The path holds row numbers only: the key of a link that lets somebody in is left out, and what was asked for behind
    its question mark, which may be a name.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer, with the id in the answer's head."""
        given = request.headers.get(HEADER, "")[:LONGEST]
        request_id = given if given and given.replace("-", "").isalnum() and given.isascii() else uuid.uuid4().hex
        token, began = _request_id.set(request_id), time.perf_counter()
        try:
            answer = self.get_response(request)
            answer[HEADER] = request_id
            told = {
                "method": request.method,
                "path": _KEY.sub(r"\1\2…", request.path),
                "status": answer.status_code,
                "ms": round(1000 * (time.perf_counter() - began), 1),
            }
            note(request, answer.status_code, time.perf_counter() - began)
            _log.info("answered", extra={"told": told})
            return answer
        finally:
            _request_id.reset(token)
