"""Uploads, bounded before they are stored."""

from typing import Any, Final

from django.core.files.uploadhandler import StopUpload, TemporaryFileUploadHandler
from django.http import HttpRequest

UPLOAD_MOST_BYTES: Final = 15_000_000


class BoundedUpload(TemporaryFileUploadHandler):
    """Reads a request past its bound to its end, but keeps nothing of its files."""

    too_large = False

    def handle_raw_input(self, input_data: Any, META: Any, content_length: int, *rest: Any, **more: Any) -> None:
        """Look at what the request says of its length."""
        self.too_large = content_length > UPLOAD_MOST_BYTES

    def new_file(self, *args: Any, **kwargs: Any) -> None:
        """Take a file in, unless the whole is too large."""
        if self.too_large:
            raise StopUpload(connection_reset=False)
        super().new_file(*args, **kwargs)


def over_bound(request: HttpRequest) -> bool:
    """Whether a request was too large for its files to be kept."""
    length = request.META.get("CONTENT_LENGTH") or ""
    return length.isascii() and length.isdigit() and (len(length) > 18 or int(length) > UPLOAD_MOST_BYTES)
