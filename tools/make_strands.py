"""Draw the strands of a lock once, as paths that every drawn lock on a page shares; only colours ever change.

Run by hand: .venv/bin/python tools/make_strands.py
"""

from pathlib import Path

import numpy as np

TEMPLATES = Path(__file__).resolve().parent.parent / "studio" / "ui" / "templates" / "ui"
SEED = 7
LAYERS, FRONT_WIDTH, BACK_WIDTH = 12, 0.8, 4.2
WIDTH, LENGTH, CENTRE, TOP = 120, 400, 60, 16
STRANDS_BACK, STRANDS_FRONT = 30, 44


def strand(rng: np.random.Generator, spread: float) -> str:
    """One strand from the clip to its own tip: a cubic that swells a little and gathers towards the end."""
    side = float(np.clip(rng.normal(0, 0.5), -1, 1)) if rng.random() < 0.4 else float(rng.uniform(-1, 1))
    start = CENTRE + side * 40
    swell = CENTRE + side * (51 + float(np.clip(rng.normal(0, 2), -4, 2))) * spread
    low = CENTRE + side * (46 + float(np.clip(rng.normal(0, 3), -6, 4))) * spread
    tip = CENTRE + side * float(np.clip(rng.normal(25, 4), 17, 33)) + rng.normal(0, 2)
    end = TOP + (LENGTH - TOP) * (0.985 - 0.13 * side**2 - abs(float(np.clip(rng.normal(0, 0.04), -0.09, 0.09))))
    return f"M{start:.1f} {TOP}C{swell:.1f} {end * 0.36:.0f} {low:.1f} {end * 0.68:.0f} {tip:.1f} {end:.0f}"


def big_lock() -> str:
    """Layers of strands, back to front; ids strands-0 up."""
    rng = np.random.default_rng(SEED)
    paths = []
    for layer in range(LAYERS):
        share = layer / (LAYERS - 1)
        width = BACK_WIDTH + (FRONT_WIDTH - BACK_WIDTH) * share**0.5
        count = round(STRANDS_BACK + (STRANDS_FRONT - STRANDS_BACK) * share)
        drawn = "".join(strand(rng, 1.0 if layer else 0.96) for _ in range(count))
        paths.append(f'    <path id="strands-{layer}" d="{drawn}" stroke-width="{width:.2f}" />')
    return "\n".join(paths)


def slip() -> str:
    """A short lying lock, 60 by 26, for ladders: a body and two sets of strands."""
    rng = np.random.default_rng(SEED)
    body = "M1 3C18 0 42 0 59 3C60 9 60 17 59 23C42 26 18 26 1 23C0 17 0 9 1 3Z"
    sets = []
    for name, count in (("deep", 9), ("shine", 8)):
        ys = rng.uniform(3.5, 22.5, count)
        drawn = "".join(
            f"M{rng.uniform(0.5, 4):.1f} {y:.1f}C20 {y - (13 - y) * 0.18:.1f} 40 {y - (13 - y) * 0.18:.1f} "
            f"{rng.uniform(56, 59.5):.1f} {y + rng.normal(0, 0.6):.1f}"
            for y in ys
        )
        sets.append(f'    <path id="slip-{name}" d="{drawn}" stroke-width="1" fill="none" />')
    return "\n".join([f'    <path id="slip-body" d="{body}" />', *sets])


def hanging_slip() -> str:
    """A small hanging lock, 60 by 120, for ladders to tap."""
    rng = np.random.default_rng(SEED)
    groups = []
    for layer, (count, width) in enumerate(((22, 7.0), (18, 3.0), (20, 1.6), (16, 0.9))):
        drawn = ""
        for _ in range(count):
            side = float(rng.uniform(-0.86, 0.86) if not layer else rng.uniform(-1, 1))
            end = 116 - 12 * side**2 - abs(rng.normal(0, 4))
            drawn += (
                f"M{30 + side * 19:.1f} 6C{30 + side * 25:.1f} {end * 0.36:.0f} "
                f"{30 + side * 24:.1f} {end * 0.68:.0f} {30 + side * 12 + rng.normal(0, 1.5):.1f} {end:.0f}"
            )
        groups.append(f'    <path id="hang-{layer}" d="{drawn}" stroke-width="{width}" fill="none" />')
    return "\n".join(groups)


def written() -> str:
    """The template that holds all strands."""
    return (
        "{# The strands of every drawn lock, once a page; takes nothing. Written by tools/make_strands.py. #}\n"
        '<svg class="hidden" aria-hidden="true">\n  <defs>\n'
        f"{big_lock()}\n{slip()}\n{hanging_slip()}\n"
        "  </defs>\n</svg>\n"
    )


if __name__ == "__main__":
    (TEMPLATES / "_strands.html").write_text(written(), encoding="utf-8")
