"""The result by the colour reader, or by a file of its readings."""

from __future__ import annotations

import datetime
from collections.abc import Mapping
from typing import Final

from django.core.files.base import File

from engine.arrays import FloatArray
from engine.bowl.mix import Process
from engine.colorimetry import cgats_in
from studio.head.reader import averaged, read_coloured
from studio.head.selectors import ZoneBench
from studio.ui.refusal import Refusal
from studio.visits.engine_adapter import canvas_of

FILE_MOST_BYTES: Final = 1_000_000


def read_result(zone: ZoneBench, process: Process, form: Mapping[str, str], *, now: datetime.datetime) -> FloatArray:
    """The result as L*a*b* (3,), the average of several readings. Raises Refusal when the reader fails."""
    return read_coloured(canvas_of(zone.reading), zone.plain_mix, process, form, now=now)


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
