"""Hands that put two printed halves together: they shift the inner one to where it goes in best, and then push it about."""

from __future__ import annotations

import random
from collections.abc import Mapping, Sequence
from typing import Any

from .machine import Machine
from .trying import Outcome, try_out

__all__ = ["together", "tried"]

Side = tuple[float, float, float]
#: nothing is shifted farther than this, mm, and a place is found as exactly as that, mm
_FAR_MM, _EXACT_MM = 20.0, 1e-5


def tried(machine: Machine, sizes: Mapping[str, Mapping[str, float]], joint: Mapping[str, Any], printed: int, dice: random.Random) -> Outcome:  # fmt: skip
    """How two halves go together whose mating sizes are these (``outer`` and ``inner``, by way and zone, mm), ``printed`` of them by this machine.

    ``joint`` is as :meth:`Workshop.put_together` takes it.
    """
    if joint.get("stands"):
        return _looked_at(machine, sizes, joint)
    outer, inner = sizes["outer"], sizes["inner"]
    gaps = {k: (outer[k] - inner[k]) / 2 for k in outer.keys() & inner.keys()}
    lost = machine.gap_lost_mm(joint["flare_chamfers_mm"])
    for way, gap in gaps.items():
        # the walls of the second direction of a zone are as long as its first is wide
        wide = [outer.get(f"{w}{way[1:]}", 0.0) for w in "xy"]
        losses = machine.shape_lost_mm(wide[0], wide[1], bool(joint.get("round_hole")))
        # half of it each printed half does
        gaps[way] = gap - losses["xy".index(way[0])] * printed / 2
    room, play = min(gaps.values()), max(gaps.values())
    if any(joint.get("sides", [])):
        room, play = together(joint["sides"], joint["drawn_by_way_mm"], gaps, _moved(machine, joint))
    if room - lost < joint["least_mm"]:
        return Outcome(
            "too tight", f"It does not go in: {max(0.01, joint['least_mm'] - room + lost):.2f} mm a side are missing."
        )
    loose = Outcome("loose", f"It goes in, with {max(play, 0.0):.2f} mm of play to each side.")
    acts = joint.get("acts")
    if acts:
        done = try_out(acts, sum(gaps.values()) / len(gaps), machine.number, dice)
        if done.verdict != "good":
            return done
        return loose if play > joint["most_mm"] else done
    return loose if play > joint["most_mm"] else Outcome("good", "It went in by hand.")


def _looked_at(machine: Machine, sizes: Mapping[str, Mapping[str, float]], joint: Mapping[str, Any]) -> Outcome:
    """A gap that nothing goes into: feelers are held into it, or a lid is laid on a cord and water poured over."""
    outer, inner = sizes["outer"], sizes["inner"]
    rests = bool(joint.get("rests"))
    printed = dict(outer) if rests else {k: (outer[k] - inner[k]) / 2 for k in outer.keys() & inner.keys()}
    gaps = []
    for number, zone in enumerate(joint.get("sides") or [[]] * len(printed)):
        way = f"x{number or ''}"
        if way in printed:
            by = printed[way] - joint["drawn_by_way_mm"][way]
            gaps += [g + by for g, _, _ in zone] or [printed[way]]
    least, most = min(gaps), max(gaps)
    if not rests:
        least -= machine.gap_lost_mm(joint["flare_chamfers_mm"])
    tight, loose = least < joint["least_mm"], most > joint["most_mm"]
    if rests:
        said = (
            "The lid does not close: the cord is in the way."
            if tight
            else "The lid closes, but water comes in."
            if loose
            else "The lid closes, and no water comes in."
        )
    elif tight:
        said = (
            "They touch." if least <= 0 else f"Too narrow: {joint['least_mm'] - least:.2f} mm are missing at one place."
        )
    else:
        said = f"There are {least:.2f} to {most:.2f} mm between them{', too much' if loose else ''}."
    return Outcome("too tight" if tight else "loose" if loose else "good", said)


def _moved(machine: Machine, joint: Mapping[str, Any]) -> list[tuple[float, float]]:
    """By how far the outer half's places came to lie otherwise than the inner's, in the joint's plane, mm: each is put where the machine's axes take it."""
    out = []
    for at in joint.get("spots_mm", ()):
        went = [0.0, 0.0]
        for half, sign in ((0, 1.0), (1, -1.0)):
            if not joint.get("printed", (True, True))[half]:
                continue
            x, y = (way[half] for way in joint["plane"])
            drawn = [at[0] * a + at[1] * b for a, b in zip(x, y, strict=True)]
            off = [d * k for d, k in zip(drawn, machine.hidden.scale, strict=True)]
            went = [
                w + sign * sum(o * c for o, c in zip(off, way, strict=True))
                for w, way in zip(went, (x, y), strict=True)
            ]
        out.append((went[0], went[1]))
    return out


def together(
    sides: Sequence[Sequence[Side]],
    drawn_mm: Mapping[str, float],
    printed_mm: Mapping[str, float],
    moved_mm: Sequence[tuple[float, float]] = (),
) -> tuple[float, float]:
    """Room at the best place and play of two printed halves, mm a side.

    Parameters
    ----------
    sides : for each zone the drawn gaps (gap, x, y) in directions from the inner half to the outer.
    moved_mm : by how far each zone's outer half lies from where it was drawn, against its inner one.
    drawn_mm, printed_mm : gap a side in the directions ``x``, ``y`` of the zones (``x1``, ``y1`` in the second, …), as drawn and as printed.
    """
    stops: list[Side] = []
    for number, zone in enumerate(sides):
        by = [printed_mm[k] - drawn_mm[k] if k in printed_mm else 0.0 for k in (f"{w}{number or ''}" for w in "xy")]
        u, v = moved_mm[number] if moved_mm else (0.0, 0.0)
        stops.extend((g + x * x * by[0] + y * y * by[1] + x * u + y * v, x, y) for g, x, y in zone)
    # the most by which all sides can stand out and still leave a place to be: the room
    low, high = min(g for g, _, _ in stops) - _EXACT_MM, max(g for g, _, _ in stops)
    while high - low > _EXACT_MM:
        middle = (low + high) / 2
        low, high = (middle, high) if _places(stops, middle) else (low, middle)
    if low < 0:
        return low, low
    free = _places(stops, 0.0)
    play = 0.0
    for _, x, y in stops:
        reached = [x * a + y * b for a, b in free]
        play = max(play, (max(reached) - min(reached)) / 2)
    return low, play


def _places(stops: Sequence[Side], stand_out_mm: float) -> list[tuple[float, float]]:
    """Corners of the shifts at which no side is hit, each standing out by so much: a square cut off at one side after the other."""
    shape = [(_FAR_MM, _FAR_MM), (-_FAR_MM, _FAR_MM), (-_FAR_MM, -_FAR_MM), (_FAR_MM, -_FAR_MM)]
    for gap, x, y in stops:
        level = gap - stand_out_mm
        heights = [x * a + y * b - level for a, b in shape]
        cut = []
        for k, (p, h) in enumerate(zip(shape, heights, strict=True)):
            q, i = shape[k - 1], heights[k - 1]
            if (h <= 0) != (i <= 0):
                share = i / (i - h)
                cut.append((q[0] + share * (p[0] - q[0]), q[1] + share * (p[1] - q[1])))
            if h <= 0:
                cut.append(p)
        shape = cut
        if not shape:
            break
    return shape
