"""What holds for every request of a program, whatever it asks for."""

import re
from collections.abc import Callable
from typing import Final

from django.http import HttpRequest
from django.http.response import HttpResponseBase

from studio.api.problems import as_problem, problem
from studio.api.services.keys import BEGINS

UNDER: Final = "/api/"
_A_KEY: Final = re.compile(rf"{BEGINS}[\w-]+|(?:^|&)(?:access_token|api_?key|token|key)=", re.IGNORECASE)


class Edge:
    """Keys in addresses are refused, unread; what goes wrong anywhere on the way is told as programs read it."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        """Pass on what is no program's; answer programs in their way."""
        if not request.path_info.startswith(UNDER):
            return self.get_response(request)
        if _A_KEY.search(request.META.get("QUERY_STRING", "")) or _A_KEY.search(request.path_info):
            return problem(
                400,
                "A key stands in the address, where logs and histories keep it. Show it in the header"
                " 'Authorization: Bearer KEY', and have the owner make a new one: this one was seen.",
            )
        return as_problem(request, self.get_response(request))
