"""Requests that a press has led to, as the census declares them."""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from urllib.parse import parse_qsl, urlsplit

from django.urls import Resolver404, resolve
from playwright.sync_api import Request


@dataclass(frozen=True)
class Sent:
    """A request that a press has led to: its way, the view that it reached, and its fields."""

    method: str
    view: str
    fields: Mapping[str, list[str]]

    @property
    def said(self) -> str:
        """As it is declared."""
        return f"{self.method.lower()} {self.view}"


def view_of(url: str) -> str:
    """The name of the view that an address reaches."""
    try:
        return resolve(urlsplit(url).path).view_name
    except Resolver404:
        return urlsplit(url).path


def fields_of(request: Request) -> dict[str, list[str]]:
    """The fields that a request carries, in its address or its body."""
    found: dict[str, list[str]] = {}
    body = request.post_data_buffer or b""
    pairs = parse_qsl(urlsplit(request.url).query, keep_blank_values=True)
    if b"form-data" in body[:400]:
        text = body.decode("utf-8", "replace")
        pairs += re.findall(
            r'name="([^"]*)"(?:; filename="[^"]*")?[^\n]*\r\n(?:Content-Type[^\n]*\r\n)?\r\n(.*?)\r\n--', text, re.S
        )
    else:
        pairs += parse_qsl(body.decode(), keep_blank_values=True)
    for name, value in pairs:
        found.setdefault(name, []).append(value)
    return found
