"""Counts, in a world of simulated printers, how often joints fit that were said to; draws docs/claim.svg.

Run it with ``.venv/bin/python docs/claim.py``. The world stands in tests/world.py.
"""

from __future__ import annotations

import math
import sys
from pathlib import Path
from statistics import mean

ROOT = Path(__file__).resolve().parents[1]
sys.path[:0] = [str(ROOT / "tests"), str(ROOT / "src")]

from world import Maker, claimed  # noqa: E402

MAKERS = 4000
EDGES = (0.3, 0.45, 0.6, 0.7, 0.8, 0.85, 0.9, 0.95, 0.98, 1.0001)
SIZE, MARGIN = 360, 48


def loop(first: int, makers: int = 200) -> dict[str, float]:
    """Shares of printers whose joint is good: at first, after one coupon, and after a verdict alone."""
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


def picture(rows: list[tuple[float, float, float, int]]) -> str:
    def x(share: float) -> float:
        return MARGIN + (share - 0.3) / 0.7 * SIZE

    def y(share: float) -> float:
        return 14 + (1 - share) / 0.7 * SIZE

    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {SIZE + MARGIN + 20} {SIZE + 62}" font-family="sans-serif" font-size="12">',
        f'<rect width="{SIZE + MARGIN + 20}" height="{SIZE + 62}" fill="#faf7ef"/>',
        f'<rect x="{x(0.85)}" y="{y(0.95)}" width="{x(0.95) - x(0.85)}" height="{y(0.85) - y(0.95)}" fill="#1e7268" opacity="0.15"/>',
        f'<path d="M{x(0.3)} {y(0.3)}L{x(1)} {y(1)}" stroke="#55615f" stroke-dasharray="4 3"/>',
        f'<path d="M{MARGIN} {y(1)}V{y(0.3)}H{x(1)}" stroke="#22302f" fill="none"/>',
    ]
    for tick in (0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 1.0):
        parts.append(
            f'<text x="{MARGIN - 8}" y="{y(tick) + 4}" text-anchor="end" fill="#55615f">{round(100 * tick)}</text>'
        )
        parts.append(
            f'<text x="{x(tick)}" y="{y(0.3) + 18}" text-anchor="middle" fill="#55615f">{round(100 * tick)}</text>'
        )
    for shown, fitted, half, _ in rows:
        low, high = max(0.3, fitted - half), min(1.0, fitted + half)
        parts.append(f'<path d="M{x(shown):.1f} {y(low):.1f}V{y(high):.1f}" stroke="#1e7268" stroke-width="1.5"/>')
        cx, cy = x(shown), y(max(0.3, fitted))
        parts.append(
            f'<path d="M{cx - 5:.1f} {cy:.1f}l5 -5l5 5l-5 5Z" fill="#fdfbf5" stroke="#1e7268" stroke-width="1.5"/>'
        )
    parts.append(
        f'<text x="{x(0.65)}" y="{y(0.3) + 38}" text-anchor="middle" fill="#22302f">chance shown before the print, of 100</text>'
    )
    parts.append(
        f'<text transform="translate(14 {y(0.65)}) rotate(-90)" text-anchor="middle" fill="#22302f">joints that went together and held, of 100</text></svg>'
    )
    return "\n".join(parts) + "\n"


def main() -> None:
    told = claimed(MAKERS, first=20_000)
    rows = []
    for low, high in zip(EDGES, EDGES[1:], strict=False):
        inside = [(c, f) for c, f in told if low <= c < high]
        if len(inside) < 20:
            continue
        shown, fitted = mean(c for c, _ in inside), mean(f for _, f in inside)
        half = 1.96 * math.sqrt(max(fitted * (1 - fitted), 1e-4) / len(inside))
        rows.append((shown, fitted, half, len(inside)))
        print(f"shown {shown:.3f}: {fitted:.3f} ± {half:.3f} of {len(inside)}")
    band = [f for c, f in told if 0.85 <= c <= 0.95]
    print(f"shown at 85 to 95 of 100: {mean(band):.3f} of {len(band)}")
    print("good of 200 printers:", loop(40_000))
    (ROOT / "docs" / "claim.svg").write_text(picture(rows), encoding="utf-8")


if __name__ == "__main__":
    main()
