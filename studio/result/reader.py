"""The result by the colour reader, or by a file of its readings."""

from __future__ import annotations

import datetime
from collections.abc import Mapping
from typing import Final

from django.core.files.base import File

from engine.arrays import FloatArray
from engine.bowl.predict import Forecast
from engine.colorimetry import cgats_in
from studio.head.reader import averaged, read_coloured
from studio.ui.refusal import Refusal

FILE_MOST_BYTES: Final = 1_000_000


def read_result(forecast: Forecast, form: Mapping[str, str], *, now: datetime.datetime) -> FloatArray:
    """The result as L*a*b* (3,), the average of several readings. Raises Refusal when the reader fails."""
    return read_coloured(forecast.canvas, forecast.bowl, forecast.process, form, now=now)


def read_file(upload: File[bytes] | None) -> FloatArray:
    """The result as L*a*b* (3,), the average of the readings in a CGATS file. Raises Refusal with the line at fault."""
    if upload is None or not upload.size:
        raise Refusal("file_missing", "readings")
    if upload.size > FILE_MOST_BYTES:
        raise Refusal("file_too_large", "readings", most=FILE_MOST_BYTES // 1_000_000)
    try:
        samples = cgats_in.read(upload.read().decode("utf-8-sig"))
    except UnicodeDecodeError:
        raise Refusal("file_not_text", "readings") from None
    except cgats_in.CgatsUnusable as unusable:
        raise Refusal("file_line", "readings", message=unusable.message) from None
    labs = [sample.lab for sample in samples if sample.lab is not None]
    if not labs:
        raise Refusal("readings_too_few", "readings")
    return labs[0] if len(labs) == 1 else averaged([tuple(map(float, lab)) for lab in labs])
