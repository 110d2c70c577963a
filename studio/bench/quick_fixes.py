"""The quick corrections under the bowl, gathered by themselves: they follow each pour when the hand rests."""

from dataclasses import dataclass

from engine.bowl.ranking import JUST_VISIBLE
from engine.language import decimals
from studio.head.engine_adapter import aim_now, corrections_of
from studio.head.selectors import Bench
from studio.ui.numbers import brief_weight


@dataclass(frozen=True, kw_only=True)
class QuickFix:
    """One correction as a button: its words, what is left then, and what it sends."""

    words: str
    then: str
    additions: tuple[tuple[int, str], ...]


@dataclass(frozen=True, kw_only=True, eq=False)
class Corrections:
    """The corrections as their template takes them; when there are none, it says why."""

    bench: Bench
    fixes: tuple[QuickFix, ...]
    is_on_aim: bool

    @property
    def version(self) -> str:
        """The worktop's version that they were reckoned for."""
        return str(self.bench.worktop.version)


def quick_fixes_of(bench: Bench) -> Corrections:
    """The one or two best small additions to the bowl in hand."""
    aim = aim_now(bench) if bench.pours else None
    return Corrections(
        bench=bench,
        is_on_aim=aim is not None and aim.delta_e00 < JUST_VISIBLE,
        fixes=tuple(
            QuickFix(
                words=", ".join(
                    f"{brief_weight(grams, sign='+')} {shade.name}" for shade, grams in each.additions.items()
                ),
                then=decimals(f"{each.delta_e00:.1f}"),
                additions=tuple((int(shade.code), f"{grams:g}") for shade, grams in each.additions.items()),
            )
            for each in corrections_of(bench)
        ),
    )
