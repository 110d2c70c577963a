"""What lets a browser keep Rainshade as an app: its name, its worker, and the page for when nothing is kept."""

import json
from pathlib import Path
from typing import Final

from django.contrib.auth.decorators import login_not_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.templatetags.static import static
from django.urls import reverse
from django.views.decorators.http import require_safe

from engine.language import say

WORKER: Final = Path(__file__).with_name("static") / "ui" / "worker.js"
INK, BOOTH = "#111111", "#8c8c8c"


@require_safe
@login_not_required
def worker(request: HttpRequest) -> HttpResponse:
    """The script beside the pages; at the root, since it answers for all of them."""
    answer = HttpResponse(WORKER.read_bytes(), content_type="text/javascript")
    answer["Cache-Control"] = "no-cache"
    answer["Service-Worker-Allowed"] = "/"
    return answer


@require_safe
@login_not_required
def manifest(request: HttpRequest) -> HttpResponse:
    """Name, icons and start of the app, as the W3C's Web Application Manifest has them."""
    icons = [
        {"src": static(f"ui/icon-{size}.png"), "sizes": f"{size}x{size}", "type": "image/png", "purpose": purpose}
        for size in (192, 512)
        for purpose in ("any", "maskable")
    ]
    told = {
        "id": "/",
        "name": "Rainshade",
        "short_name": "Rainshade",
        "description": say("Forecast a shade, aim at it, mix it, keep it."),
        "lang": request.LANGUAGE_CODE if hasattr(request, "LANGUAGE_CODE") else "en-gb",
        "start_url": reverse("chairs:chairs"),
        "scope": "/",
        "display": "standalone",
        "background_color": BOOTH,
        "theme_color": INK,
        "icons": icons,
    }
    return HttpResponse(json.dumps(told), content_type="application/manifest+json")


@require_safe
@login_not_required
def away(request: HttpRequest) -> HttpResponse:
    """What a tablet without connection shows for a page that it does not keep."""
    return render(request, "ui/away.html", {"near": []})
