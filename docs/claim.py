"""Counts how often joints fit that were said to, in the program's own world and in such as it does not know; draws docs/claim.svg.

Run it with ``.venv/bin/python docs/claim.py``; it takes some minutes (``… families`` counts the families of joints only, or some of them: ``… families key pins``; ``… worlds`` the rest). The worlds stand in tests/worlds.py, the simulated printers of the
application in tests/world.py. Neither uses what it judges.
"""

from __future__ import annotations

import os
import sys
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path
from statistics import mean

# one thread in each process: what is counted is many small things
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
ROOT = Path(__file__).resolve().parents[1]
sys.path[:0] = [str(ROOT / "tests"), str(ROOT / "src")]

from families import OTHER_WAYS, SHOWN_BY, Case, grown  # noqa: E402
from world import Maker  # noqa: E402
from worlds import SAID, STAGES, WORLDS, counted, life  # noqa: E402

from dovejoint.core.profiles import DEFAULT_PROFILE  # noqa: E402

OWN, FOREIGN = 2000, 600
SIZE, MARGIN = 230, 40
STAGE_COLOURS = ("#a8481f", "#1e7268", "#7a5a9e", "#b08a2e", "#22302f")


def loop(first: int, makers: int = 200) -> dict[str, float]:
    """Shares of the application's simulated printers whose joint is good: at first, after one coupon, and after a verdict alone."""
    before = coupon = verdict = 0
    for number in range(first, first + makers):
        measured = Maker(number)
        measured.print_coupon("sizes")
        measured.learn()
        coupon += measured.try_joint()[0] == "good"
        told = Maker(number)
        said, drawn = told.try_joint()
        before += said == "good"
        if said != "good":
            told.tell(said, drawn)
            told.learn()
            said, _ = told.try_joint(both=False)
        verdict += said == "good"
    return {"before": before / makers, "coupon": coupon / makers, "verdict": verdict / makers}


def one(asked: tuple[str, int]) -> dict[str, tuple[float, bool]]:
    return life(WORLDS[asked[0]], asked[1], SAID.get(asked[0], DEFAULT_PROFILE))


def family(name: str, first: int = 50_000, makers: int = 200) -> str:
    """One family of joints on hidden machines, as a row of a table: at the first print, after one coupon at the second, and at the best of stepped gaps, what was shown
    and what was good, of 100; the most that any one gap for each machine gives (an eighth of them); how many could be good at any gap, and of these the good ones; what
    went wrong at the second; and how far what is taken in proportion is from the truth."""
    case = Case(name)
    off = max(case.off_mm(grown(by)) for by in (-0.04, 0.12))
    lives = [case.life(number) for number in range(first, first + makers)]
    stages = [
        (mean(x[stage][0] for x in lives), mean(x[stage][1] for x in lives)) for stage in ("first", "second", "stepped")
    ]
    with_luck = mean(case.most(number) for number in range(first, first + makers // 8))
    could = [x for x in lives if x["possible"]]
    ends = Counter(x["ends"] for x in lives if x["ends"] != "good")
    wrong = ", ".join(f"{round(100 * n / makers)} {what}" for what, n in ends.most_common())
    share = mean(x["second"][1] for x in could) if could else 0.0
    shown = " | ".join(
        f"{100 * s:.0f}: {'**' if abs(s - g) > 0.1 else ''}{100 * g:.0f}{'**' if abs(s - g) > 0.1 else ''}"
        for s, g in stages
    )
    return f"| {name} | {shown} | {100 * with_luck:.0f} | {100 * len(could) / makers:.0f} | {100 * share:.0f} | {wrong or '–'} | {off:.4f} |"


def panel(name: str, rows: dict[str, list[tuple[float, float, int]]], left: float, top: float) -> str:
    """One world: a point for each tenth of the shown chances and stage."""

    def x(share: float) -> float:
        return left + MARGIN + share * SIZE

    def y(share: float) -> float:
        return top + 22 + (1 - share) * SIZE

    parts = [
        f'<text x="{x(0.5)}" y="{top + 14}" text-anchor="middle" font-weight="600" fill="#22302f">{name}</text>',
        f'<path d="M{x(0)} {y(0)}L{x(1)} {y(1)}" stroke="#55615f" stroke-dasharray="4 3"/>',
        f'<path d="M{x(0)} {y(1)}V{y(0)}H{x(1)}" stroke="#22302f" fill="none"/>',
    ]
    for tick in (0, 50, 100):
        parts.append(f'<text x="{x(0) - 5}" y="{y(tick / 100) + 4}" text-anchor="end" fill="#55615f">{tick}</text>')
        parts.append(f'<text x="{x(tick / 100)}" y="{y(0) + 14}" text-anchor="middle" fill="#55615f">{tick}</text>')
    for colour, stage in zip(STAGE_COLOURS, STAGES, strict=True):
        for shown, kept, n in rows[stage]:
            parts.append(
                f'<circle cx="{x(shown):.1f}" cy="{y(kept):.1f}" r="{1.5 + (n / 300) ** 0.5 * 2:.1f}" fill="{colour}" fill-opacity="0.7"/>'
            )
    return "".join(parts)


def picture(worlds: dict[str, dict[str, list[tuple[float, float, int]]]]) -> str:
    wide, tall = SIZE + MARGIN + 14, SIZE + 48
    across = 3
    down = -(-len(worlds) // across)
    legend = "".join(
        f'<circle cx="{20 + 160 * k}" cy="{down * tall + 16}" r="5" fill="{c}"/><text x="{30 + 160 * k}" y="{down * tall + 20}" fill="#22302f">{s}</text>'
        for k, (c, s) in enumerate(zip(STAGE_COLOURS, STAGES, strict=True))
    )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {wide * across} {down * tall + 50}" font-family="sans-serif" font-size="11">'
        f'<rect width="{wide * across}" height="{down * tall + 50}" fill="#faf7ef"/>'
        + "".join(panel(n, r, k % across * wide, k // across * tall) for k, (n, r) in enumerate(worlds.items()))
        + legend
        + f'<text x="20" y="{down * tall + 42}" fill="#55615f">across: chance shown before the print, of 100; up: joints that went together and held, of 100</text></svg>\n'
    )


def main() -> None:
    asked = sys.argv[1:] or ["worlds", "families"]
    if "families" in asked:
        with ProcessPoolExecutor() as pool:
            there = [*SHOWN_BY, *OTHER_WAYS]
            for row in pool.map(family, [f for f in there if f in asked] or there):
                print(row, flush=True)
    if "worlds" not in asked:
        return
    worlds = {}
    with ProcessPoolExecutor() as pool:
        for name in WORLDS:
            lives = list(pool.map(one, [(name, k) for k in range(OWN if name == "own" else FOREIGN)], chunksize=20))
            rows = {stage: [row[stage] for row in lives] for stage in STAGES}
            worlds[name] = {stage: counted(rows[stage], 60) for stage in STAGES}
            for stage in STAGES:
                shown, kept = mean(s for s, _ in rows[stage]), mean(g for _, g in rows[stage])
                tenths = " ".join(f"{100 * s:.0f}>{100 * g:.0f}({n})" for s, g, n in worlds[name][stage])
                print(f"{name:26} {stage:24} shown {shown:.3f} kept {kept:.3f}  {tenths}", flush=True)
    print("good of 200 simulated printers:", loop(40_000))
    (ROOT / "docs" / "claim.svg").write_text(picture(worlds), encoding="utf-8")


if __name__ == "__main__":
    main()
