"""What a drill has found: a row for each thing that was done to the chain, and how they are told."""

import os
import platform
import statistics
from dataclasses import dataclass, field
from pathlib import Path

from deploy.drill.hands import Wait


@dataclass(frozen=True)
class Row:
    """One thing that was done. longest_s: what anybody waited for one request from its first sending; most_s: the bound
    that it is held to, if any. again: how many requests were sent more than once. note: what else was seen.
    """

    what: str
    asked: int
    again: int
    unanswered: int
    longest_s: float
    most_s: float | None
    note: str = ""

    @property
    def is_good(self) -> bool:
        """Whether everything was answered, within the bound."""
        return not self.unanswered and (self.most_s is None or self.longest_s <= self.most_s)


def row_of(what: str, waits: list[Wait], most_s: float | None, note: str = "") -> Row:
    """The row for what was asked meanwhile."""
    return Row(
        what=what,
        asked=len(waits),
        again=sum(wait.tries > 1 for wait in waits),
        unanswered=sum(not wait.is_answered for wait in waits),
        longest_s=max((wait.took_s for wait in waits), default=0.0),
        most_s=most_s,
        note=note,
    )


@dataclass
class Ledger:
    """All rows of a drill, and what is told besides, each with whether it is as it should be."""

    rows: list[tuple[int, Row]] = field(default_factory=list)
    told: list[tuple[str, str, bool]] = field(default_factory=list)

    def tell(self, what: str, found: str, is_good: bool) -> None:
        """A figure, and whether it is within its bound."""
        self.told.append((what, found, is_good))

    @property
    def faults(self) -> int:
        """How much is not as it should be."""
        return sum(not row.is_good for _, row in self.rows) + sum(not good for *_, good in self.told)

    def markdown(self) -> str:
        """Both tables, for docs/operations/drill.md."""
        lines = [
            "| round | what was done meanwhile | requests | sent again | not answered | longest wait | at most | |"
        ]
        lines.append("|---|---|---|---|---|---|---|---|")
        for turn, row in self.rows:
            most = "" if row.most_s is None else f"{row.most_s:g} s"
            cells = [str(turn), row.what, str(row.asked), str(row.again), str(row.unanswered), f"{row.longest_s:.1f} s"]
            lines.append(f"| {' | '.join([*cells, most, row.note + ('' if row.is_good else ' **OVER**')])} |")
        lines += ["", "| what | found |", "|---|---|"]
        lines += [
            f"| {what} | {found}{'' if good else ' **NOT AS IT SHOULD BE**'} |" for what, found, good in self.told
        ]
        return "\n".join(lines) + "\n"


def machine() -> str:
    """The machine that it was made on, in words."""
    cpu = next(
        (line.split(":")[1].strip() for line in Path("/proc/cpuinfo").read_text().splitlines() if "model name" in line),
        platform.machine(),
    )
    memory = next(int(line.split()[1]) for line in Path("/proc/meminfo").read_text().splitlines() if "MemTotal" in line)
    debian = Path("/etc/debian_version").read_text(encoding="ascii").strip()
    return f"{os.cpu_count()} cores ({cpu}), {memory / 1e6:.0f} GB of memory, Debian {debian}"


def p95_ms(waits: list[Wait], kind: str) -> float:
    """Milliseconds within which 95 of 100 of a kind were answered."""
    took = [wait.took_s * 1000 for wait in waits if wait.kind == kind]
    return statistics.quantiles(took, n=20)[-1] if len(took) > 1 else 0.0
