"""Draw the strands of a lock once, as paths that every drawn lock on a page shares; only colours ever change.

Run by hand: .venv/bin/python tools/make_strands.py
"""

from pathlib import Path

import numpy as np

TEMPLATES = Path(__file__).resolve().parent.parent / "studio" / "ui" / "templates" / "ui"
SEED = 7
LAYERS, FRONT_WIDTH, BACK_WIDTH = 12, 0.7, 3.4
WIDTH, LENGTH, CENTRE, TOP = 120, 400, 60, 16
STRANDS_BACK, STRANDS_FRONT = 30, 44


# The outline that no strand leaves: half its width at the clip, where it swells, further down, and at the tips.
HALF = (40.0, 47.0, 45.0, 33.0)
ENDS = (0.985, 0.075)  # how far down the middle strands reach, and how much less those at the edge
SOLID = 0.9  # the share of the length that is closed hair; below it strands taper apart


# Both flanks lie in shade, the left one more, as light falls from the right.
FLANKS = """    <linearGradient id="flanks">
    <stop offset="0" stop-opacity=".5" />
    <stop offset=".16" stop-opacity=".12" />
    <stop offset=".34" stop-opacity="0" />
    <stop offset=".84" stop-opacity="0" />
    <stop offset="1" stop-opacity=".3" />
    </linearGradient>
"""


def strand(rng: np.random.Generator, reach: float) -> str:
    """One strand from the clip to its own tip: a cubic inside the outline. reach: of those that taper out last, 1."""
    side = float(rng.uniform(-1, 1))
    start, swell, low = (CENTRE + side * half * float(rng.uniform(0.94, 1.0)) for half in HALF[:3])
    tip = CENTRE + float(np.clip(side + rng.normal(0, 0.09), -1, 1)) * HALF[3]
    full = ENDS[0] - ENDS[1] * side**2
    end = TOP + (LENGTH - TOP) * full * (reach - float(rng.uniform(0, 0.09)))
    return f"M{start:.1f} {TOP}C{swell:.1f} {end * 0.36:.0f} {low:.1f} {end * 0.68:.0f} {tip:.1f} {end:.0f}"


def outline(left: float, right: float, *, half: tuple[float, ...], top: float, end: float) -> str:
    """The closed shape between two sides, each from -1 to 1 across, of a lock that hangs from top to end."""
    one, other = ([CENTRE + side * each for each in half] for side in (left, right))
    swell, low = f"{end * 0.36:.0f}", f"{end * 0.68:.0f}"
    return (
        f"M{one[0]:.1f} {top:g}C{one[1]:.1f} {swell} {one[2]:.1f} {low} {one[3]:.1f} {end:.0f}"
        f"L{other[3]:.1f} {end:.0f}C{other[2]:.1f} {low} {other[1]:.1f} {swell} {other[0]:.1f} {top:g}Z"
    )


def big_lock() -> str:
    """The closed hair, its flanks, and layers of strands, back to front; ids strands-0 up.

    The broad strands at the back end first and the fine ones in front last, so that the lock tapers out.
    """
    rng = np.random.default_rng(SEED)
    end = LENGTH * SOLID
    paths = [f'    <path id="lock-body" d="{outline(-1, 1, half=HALF, top=TOP, end=end)}" />']
    for layer in range(LAYERS):
        share = layer / (LAYERS - 1)
        width = BACK_WIDTH + (FRONT_WIDTH - BACK_WIDTH) * share**0.5
        count = round(STRANDS_BACK + (STRANDS_FRONT - STRANDS_BACK) * share)
        drawn = "".join(strand(rng, 0.95 + 0.05 * share) for _ in range(count))
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
    """A small hanging lock, 60 by 120, for ladders to tap: closed hair and eighteen strands, and its band of shine."""
    rng = np.random.default_rng(SEED)
    scale, top, last = 0.5, 5.0, 110.0

    def across(side: float, row: int) -> float:
        return 30 + side * HALF[row] * scale

    one, other = ([f"{across(side, row):.1f}" for row in range(4)] for side in (-1, 1))
    body = f"M{one[0]} 5C{one[1]} 40 {one[2]} 76 {one[3]} 108L{other[3]} 108C{other[2]} 76 {other[1]} 40 {other[0]} 5Z"
    groups = [f'    <path id="hang-body" d="{body}" />']
    places = np.linspace(-0.94, 0.94, 18) + rng.uniform(-0.03, 0.03, 18)
    rng.shuffle(places)
    for name, chosen, width in (("deep", places[:6], 1.3), ("mid", places[6:12], 1.3), ("light", places[12:], 1.0)):
        drawn = ""
        for side in chosen:
            end = last + 6 - 9 * side**2 - float(rng.uniform(0, 5))
            tip = across(side + float(rng.normal(0, 0.07)), 3)
            drawn += (
                f"M{across(side, 0):.1f} {top:g}C{across(side, 1):.1f} 40 {across(side, 2):.1f} 76 {tip:.1f} {end:.0f}"
            )
        groups.append(f'    <path id="hang-{name}" d="{drawn}" stroke-width="{width}" fill="none" />')
    band = ""
    for side in np.linspace(-0.6, 0.9, 19) + rng.uniform(-0.03, 0.03, 19):
        start, end = 30 + float(rng.uniform(-5, 5)), 43 + float(rng.uniform(-6, 6))
        band += f"M{across(side, 1) - side * 0.4:.1f} {start:.0f}L{across(side, 1):.1f} {end:.0f}"
    groups.append(f'    <path id="hang-shine" d="{band}" stroke-width="1" fill="none" />')
    return "\n".join(groups)


def written() -> str:
    """The template that holds all strands, laid out as the house's templates are."""
    shapes = f"{big_lock()}\n{slip()}\n{hanging_slip()}\n{FLANKS}"
    drawn = "\n".join(f"  {line.strip()}" for line in shapes.splitlines())
    return (
        "{# The strands of every drawn lock, once a page; takes nothing. Written by tools/make_strands.py. #}\n"
        f'<svg class="strands" aria-hidden="true">\n  <defs>\n{drawn}\n  </defs>\n</svg>\n'
    )


if __name__ == "__main__":
    (TEMPLATES / "_strands.html").write_text(written(), encoding="utf-8")
