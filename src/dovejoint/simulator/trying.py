"""What happens when two printed halves are pushed, snapped or turned together: arms bend, rings stretch, threads start or do not.

The application works such things out by the hand-book. Here they are marched along in small pieces, with what the hand-book leaves out: roots that
concentrate, walls that give way, skins that are flattened, crests that a nozzle rounds off, and a filament that is never quite what its label says.
"""

from __future__ import annotations

import math
import random
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, Literal

import numpy as np

from .cut_ring import by_cuts

__all__ = ["Filament", "Outcome", "filament_of", "try_out"]

Verdict = Literal["too tight", "good", "loose", "broke"]
#: what a hand pushes, and what is still driven in with a mallet, N
HAND_N, MALLET_N = 70.0, 3500.0
_PIECES = 80


@dataclass(frozen=True)
class Filament:
    """What one machine's prints are really like, as shares of the usual: what they bear and how stiff they are; ``across`` is what is left where layers are
    pulled apart, ``again`` what is left of a strain that comes back; ``skin`` (mm a side) is flattened by a press, ``rounded`` (mm) is missing on crests."""

    bears: float
    stiff: float
    across: float
    again: float
    rough: float
    gives: float
    skin: float
    rounded: float
    layers: float
    felt: float


def filament_of(number: int) -> Filament:
    """That of a machine; the same number is always the same."""
    dice = random.Random(f"simulated filament {number}")
    return Filament(
        bears=dice.lognormvariate(0.0, 0.16), stiff=dice.uniform(0.75, 1.15), across=dice.uniform(0.35, 0.7), again=dice.uniform(0.5, 0.8),
        rough=dice.uniform(0.8, 1.3), gives=dice.uniform(0.0, 0.15), skin=dice.uniform(0.0, 0.01), rounded=dice.uniform(0.0, 0.08),
        layers=dice.uniform(3.0, 4.5), felt=dice.uniform(0.1, 0.3),
    )  # fmt: skip


@dataclass(frozen=True)
class Outcome:
    """How it went, and a sentence of somebody who tried it."""

    verdict: Verdict
    says: str


def _arm(a: Mapping[str, Any], gap_mm: float, f: Filament, dice: random.Random) -> Outcome:
    """An arm whose nose must get past a wall: its curvature summed from the root on, with shear, and a root that is not as round as drawn."""
    undercut = a["undercut"] + a["gap"] - gap_mm
    if undercut < f.felt:
        return Outcome("loose", "It slips out: there is hardly any undercut.")
    called, many = a.get("called", "arm"), a.get("many", 1)
    bend = undercut * (1 - f.gives)
    stuff = a["stuff"]
    modulus = stuff["modulus_mpa"] * f.stiff
    give, most = 0.0, 0.0
    for x, lever, step in _pieces(a):
        thick = a["thick"] + (a["tip"] - a["thick"]) * min(x / a["long"], 1.0)
        inertia = a["wide"] * thick**3 / 12
        give += step * (lever**2 / (modulus * inertia) + 1.2 * 2.7 / (modulus * a["wide"] * thick))
        # strain of the outer fibre under one newton, without what a rounding swells the root by
        if a["root"] <= 0 or x > 0.3 * a["root"]:
            most = max(most, lever * thick / (2 * modulus * inertia))
    force = bend / give
    sharp = 1.0 + 0.25 / (1.0 + 4.0 * a["root"] / a["thick"])
    strain = force * most * sharp
    weak = 1 - (1 - f.across) * stuff["upright"] * stuff["plastic"]
    once = stuff["strain_once"] * f.bears * weak * dice.lognormvariate(0.0, 0.06)
    if strain > once:
        return Outcome("broke", f"The {called} cracked at its root on the way in.")
    if a["often"] and strain > once * f.again:
        return Outcome(
            "broke", f"It snapped in and held, but after some dozen times the {called} was cracked at its root."
        )
    push, pull = _over(a, many * force, f)
    if push > MALLET_N:
        return Outcome("too tight", "The slope locks: it cannot be pushed in.")
    return Outcome("good", f"It snapped in with about {push:.0f} N and {_lets_go(pull)}.")


def _pieces(a: Mapping[str, Any]) -> list[tuple[float, float, float]]:
    """An arm in small pieces from its root on: how far along it each lies, how far across its middle is from the push at the nose (the lever), and how long it is."""
    step = a["long"] / _PIECES
    fold = a.get("fold", 0.0)
    if not fold:
        return [((k + 0.5) * step, a["long"] - (k + 0.5) * step, step) for k in range(_PIECES)]
    # a leg down, half a circle, and a leg back up, whose end is pushed
    out = [((k + 0.5) * step, abs(fold - a["long"] + (k + 0.5) * step), step) for k in range(_PIECES)]
    turn = math.pi / _PIECES
    out += [(a["long"] + (k + 0.5) * turn * a["radius"], fold + a["radius"] * math.sin((k + 0.5) * turn), turn * a["radius"]) for k in range(_PIECES)]  # fmt: skip
    back = fold / _PIECES
    return out + [(a["long"] + math.pi * a["radius"] + (k + 0.5) * back, fold - (k + 0.5) * back, back) for k in range(_PIECES)]  # fmt: skip


def _over(a: Mapping[str, Any], across_n: float, f: Filament) -> tuple[float, float]:
    """What it takes to push over the slope ``lead`` and to pull over ``back``, where so much presses across, N."""
    friction = a["stuff"]["friction"] * f.rough
    forces = []
    for slope in (math.tan(a["lead"]), math.tan(min(a["back"], math.pi / 2 - 1e-6))):
        left = 1 - friction * slope
        forces.append(across_n * (friction + slope) / left if left > 0 else math.inf)
    return forces[0], forces[1]


def _lets_go(pull_n: float) -> str:
    return "does not let go by pulling" if not pull_n < MALLET_N else f"lets go at about {pull_n:.0f} N"


def _lever(a: Mapping[str, Any], gap_mm: float, f: Filament, dice: random.Random) -> Outcome:
    """A lever on two square bars: their stress function found by relaxation on a grid, and the lever itself gives a little as well."""
    undercut = a["undercut"] + a["gap"] - gap_mm
    if undercut < f.felt:
        return Outcome("loose", "It slips out: there is hardly any undercut.")
    bend = undercut * (1 - f.gives) * 0.93
    stuff = a["stuff"]
    constant, steepest = _square_twisted()
    turn = bend / a["long"]
    shear_mpa = stuff["modulus_mpa"] * f.stiff / (2 * (1 + stuff["poisson"]))
    strain = steepest * a["bar"] * turn / a["span"]
    weak = 1 - (1 - f.across) * stuff["upright"] if stuff["plastic"] else 1.0
    once = (
        2
        * (1 + stuff["poisson"])
        / math.sqrt(3)
        * stuff["strain_once"]
        * f.bears
        * weak
        * 0.88
        * dice.lognormvariate(0.0, 0.06)
    )
    if strain > once:
        return Outcome("broke", "A bar cracked where it meets the lever while it was pushed in.")
    if a["often"] and strain > once * f.again:
        return Outcome("broke", "It snapped in and held, but after some dozen times a bar was cracked.")
    moment = 2 * shear_mpa * constant * a["bar"] ** 4 * turn / a["span"]
    push, pull = _over(a, moment / a["long"], f)
    if push > MALLET_N:
        return Outcome("too tight", "The slope locks: it cannot be pushed in.")
    press = moment / a["short"]
    if press > HAND_N:
        return Outcome("too tight", f"It snapped in, but no thumb opens it: that takes {press:.0f} N.")
    return Outcome(
        "good", f"It snapped in with about {push:.0f} N and {_lets_go(pull)}; pressed with {press:.0f} N it opens."
    )


def _square_twisted(cells: int = 40) -> tuple[float, float]:
    """A square bar of side 1 twisted by one radian a length: its torsion constant, and its greatest shear, by Prandtl's stress function ∇²φ = −2 on a grid."""
    n = cells - 1
    k = np.arange(1, cells) * math.pi / cells
    eigen = 2 * np.cos(k) - 2
    sines = np.sin(np.outer(np.arange(1, cells), k)) * math.sqrt(2 / cells)
    load = sines @ np.full((n, n), -2.0 / cells**2) @ sines
    phi = sines @ (load / (eigen[:, None] + eigen[None, :])) @ sines
    # the slope at the middle of a side, to second order
    steep = (4 * phi[0, n // 2] - phi[1, n // 2]) / 2 * cells
    return float(2 * phi.sum() / cells**2), float(steep)


def _cracks(strain: float, ring: Mapping[str, Any], f: Filament, dice: random.Random) -> bool:
    """Whether a wall round something gives way when it is strained so."""
    weak = f.across + (1 - f.across) * ring["upright"] if ring["plastic"] else 1.0
    return bool(strain > ring["strain_once"] * f.bears * weak * dice.lognormvariate(0.0, 0.06))


def _pressed_in(push: float, says: str) -> Outcome:
    """What came of something whose wall held while it was pressed in with so much, N."""
    if push > MALLET_N:
        return Outcome("too tight", f"It would take {push:.0f} N: no mallet drives it home.")
    if push < 2:
        return Outcome("loose", "It goes in by itself and turns.")
    how = "by hand" if push < HAND_N else "with a mallet or a vice"
    return Outcome("good", f"{says} {how}, with about {push:.0f} N, and sits firm.")


def _ring(a: Mapping[str, Any], gap_mm: float, f: Filament, dice: random.Random) -> Outcome:
    """A core pressed into a ring: the ring's own stretch marched outwards from its bore until its outside is free."""
    tight = -gap_mm - f.skin
    if tight <= 0:
        return Outcome("loose", "It drops in and holds nothing.")
    ring, core = a["stuff"], a["core"]
    inner, outer = a["diameter"] / 2, a["diameter"] / 2 + a["wall"]
    soft = _stretch(inner, outer, ring["modulus_mpa"] * f.stiff, ring["poisson"])
    hard = core["modulus_mpa"] * (f.stiff if core["plastic"] else 1.0)
    within = (
        inner * (1 - core["poisson"]) / hard
        if a["hollow"] <= 0
        else _stretch(inner, a["hollow"] / 2, hard, core["poisson"])
    )
    firm, strained = _by_cuts(a, ring["poisson"])
    pressure = tight / (soft / firm + within)
    strain = pressure * soft / firm / inner * strained
    if _cracks(strain, ring, f, dice):
        return Outcome("broke", "The wall round it cracked while it was pressed in.")
    push = math.pi * a["diameter"] * a["engaged"] * pressure * min(ring["friction"], core["friction"]) * f.rough
    return _pressed_in(push, "It went in")


def _by_cuts(a: Mapping[str, Any], poisson: float) -> tuple[float, float]:
    """How firm a wall with its cuts is beside a whole one, and how much more it is strained; 1 and 1 where it is whole."""
    if "walls" not in a:
        return 1.0, 1.0
    return by_cuts(a["diameter"] / 2, a["wall"], tuple(a["begins"]), tuple(a["walls"]), poisson)


def _strained_by(pressure_mpa: float, a: Mapping[str, Any], f: Filament) -> float:
    """How a wall is strained round by a pressure that is evened out over it."""
    ring, inner = a["stuff"], a["diameter"] / 2
    firm, strained = _by_cuts(a, ring["poisson"])
    soft = _stretch(inner, inner + a["wall"], ring["modulus_mpa"] * f.stiff, ring["poisson"])
    return float(pressure_mpa * soft / inner * strained / firm)


def _bead(a: Mapping[str, Any], gap_mm: float, f: Filament, dice: random.Random) -> Outcome:
    """A bead that widens a tube: the tube's wall in strips along it, each held by the hoops that it is part of, marched as one beam whose end is free."""
    undercut = a["undercut"] + a["gap"] - gap_mm
    if undercut < f.felt:
        return Outcome("loose", "It slips off: there is hardly any undercut.")
    widened = undercut * (1 - f.gives)
    stuff = a["stuff"]
    radius = a["diameter"] / 2
    weak = f.across + (1 - f.across) * stuff["upright"] if stuff["plastic"] else 1.0
    once = stuff["strain_once"] * f.bears * weak * dice.lognormvariate(0.0, 0.06)
    strain = widened / radius
    if strain > once:
        return Outcome("broke", "The tube split along its length while it was pushed on.")
    if a["often"] and strain > once * f.again:
        return Outcome("broke", "It snapped on and held, but after some dozen times the tube was split.")
    across = widened * _tube_stiffness(radius + a["wall"] / 2, a["wall"], a["depth"], stuff["modulus_mpa"] * f.stiff, stuff["poisson"])  # fmt: skip
    push, pull = _over(a, across, f)
    if push > MALLET_N:
        return Outcome("too tight", "No mallet drives it on.")
    return Outcome("good", f"It snapped on with about {push:.0f} N and {_lets_go(pull)}.")


def _tube_stiffness(radius_mm: float, wall_mm: float, at_mm: float, modulus_mpa: float, poisson: float) -> float:
    """Force all round for each millimetre that a tube widens (a side) at a place behind its free end, N/mm: u⁗ + 4λ⁴·u = q in differences of one
    twentieth of the length in which it fades, over ten of them."""
    hoops = modulus_mpa * wall_mm / radius_mm**2
    bending = modulus_mpa * wall_mm**3 / (12 * (1 - poisson**2))
    fades = (4 * bending / hoops) ** 0.25
    step = fades / 20
    count = 200 + round(at_mm / step)
    # D·u″ as it works back on the nodes: the sum of squared second differences has free ends of itself
    bends = np.zeros((count - 2, count))
    k = np.arange(count - 2)
    bends[k, k], bends[k, k + 1], bends[k, k + 2] = 1.0, -2.0, 1.0
    rows = bending / step**3 * bends.T @ bends + np.diag(np.r_[0.5, np.ones(count - 2), 0.5]) * hoops * step
    load = np.zeros(count)
    here = round(at_mm / step)
    load[here] = 1.0
    return float(2 * math.pi * radius_mm / np.linalg.solve(rows, load)[here])


def _stretch(bore_mm: float, rim_mm: float, modulus_mpa: float, poisson: float) -> float:
    """By how much a ring's pressed face moves under 1 MPa, mm: u″ + u′/r − u/r² = 0 in small steps, twice, and so mixed that the far side is free."""
    ends = []
    step = (rim_mm - bore_mm) / _PIECES
    for slope in (0.0, 1.0):
        u, v, r = 1.0, slope, bore_mm
        for _ in range(_PIECES):
            # a step by the middle of it
            um, vm, rm = u + v * step / 2, v + (u / r**2 - v / r) * step / 2, r + step / 2
            u, v, r = u + vm * step, v + (um / rm**2 - vm / rm) * step, r + step
        ends.append(v + poisson * u / r)
    slope = -ends[0] / (ends[1] - ends[0])
    stress = modulus_mpa / (1 - poisson**2) * (slope + poisson / bore_mm)
    return 1.0 / abs(stress)


def _ribs(a: Mapping[str, Any], gap_mm: float, f: Filament, dice: random.Random) -> Outcome:
    """Ribs that a nozzle drew as beads: they yield a little before they are squashed, and what is squashed needs room."""
    over = -gap_mm - f.skin
    if over <= 0:
        return Outcome("loose", "It rattles between its ribs.")
    ring = a["stuff"]
    if over > 0.95 * a["stands"]:
        return Outcome("too tight", "The ribs are squashed flat and the wall itself is in the way.")
    # squashed little by little along a bead: three quarters of the chord of its circle carry
    chord = 1.5 * math.sqrt(over * (2 * a["rib"] - over))
    each = (1.1 + 0.6 * dice.random()) * ring["strength_mpa"] * chord * a["engaged"]
    pressure = a["count"] * each / (math.pi * a["diameter"] * a["engaged"])
    strain = _strained_by(pressure, a, f)
    if _cracks(strain, ring, f, dice):
        return Outcome("broke", "The wall round it cracked while it was pressed in.")
    push = a["count"] * each * min(ring["friction"], a["core"]["friction"]) * f.rough
    how = "by hand" if push < HAND_N else "with a mallet or a vice"
    return Outcome("good", f"It went in {how}, with about {push:.0f} N; its ribs are flattened by {over:.2f} mm.")


def _split(a: Mapping[str, Any], gap_mm: float, f: Filament, dice: random.Random) -> Outcome:
    """A slit ring that a core springs open: straight pieces of frame in a row, stretched, sheared and bent, pushed back wherever the core would be in them."""
    tight = -gap_mm - f.skin
    if tight <= 0:
        return Outcome("loose", "It drops in and the wall holds nothing.")
    ring = a["stuff"]
    presses, strain = _sprung(a, ring["modulus_mpa"] * f.stiff, ring["poisson"], tight)
    if _cracks(strain, ring, f, dice):
        return Outcome("broke", "The wall cracked across while it was sprung open.")
    push = presses * min(ring["friction"], a["core"]["friction"]) * f.rough
    return _pressed_in(push, "The wall sprang open; it went in")


def _sprung(a: Mapping[str, Any], modulus_mpa: float, poisson: float, tight_mm: float) -> tuple[float, float]:
    """What presses in a slit ring (N), and the strain where it bends most, for a core larger by ``tight_mm`` a side: both grow with that, for where the core touches does not change."""
    presses, strain = _sprung_by_one(a["diameter"] / 2, tuple(a["walls"]), a["slit"], a["engaged"], poisson)
    return presses * modulus_mpa * tight_mm, strain * tight_mm


@lru_cache(maxsize=64)
def _sprung_by_one(bore: float, walls: tuple[float, ...], slit: float, wide: float, poisson: float) -> tuple[float, float]:  # fmt: skip
    """The same for a modulus of 1 MPa and a core larger by 1 mm a side."""
    begin, count = math.asin(slit / 2 / bore), 120
    turns = np.linspace(begin, 2 * math.pi - begin, count + 1)
    wall = np.interp(turns, np.arange(1, len(walls) + 1) * 2 * math.pi / (len(walls) + 1), walls)
    out = np.c_[np.cos(turns), np.sin(turns)]
    at = out * (bore + wall / 2)[:, None]
    rows = np.zeros((3 * count + 3, 3 * count + 3))
    for k in range(count):
        way = at[k + 1] - at[k]
        long, thick = float(np.hypot(*way)), float(wall[k] + wall[k + 1]) / 2
        c, s = way / long
        bends, pulls = wide * thick**3 / 12, wide * thick / long
        # Timoshenko's beam: a rectangle is sheared with five sixths of it
        soft = 12 * bends / (1 / (2 + 2 * poisson) * wide * thick * 5 / 6 * long**2)
        stiff = bends / (long**3 * (1 + soft))
        local = np.zeros((6, 6))
        local[np.ix_((0, 3), (0, 3))] = pulls * np.array([[1, -1], [-1, 1]])
        local[np.ix_((1, 2, 4, 5), (1, 2, 4, 5))] = stiff * np.array([
            [12, 6 * long, -12, 6 * long], [6 * long, (4 + soft) * long**2, -6 * long, (2 - soft) * long**2],
            [-12, -6 * long, 12, -6 * long], [6 * long, (2 - soft) * long**2, -6 * long, (4 + soft) * long**2],
        ])  # fmt: skip
        turned = np.kron(np.eye(2), np.array([[c, s, 0], [-s, c, 0], [0, 0, 1]]))
        rows[3 * k : 3 * k + 6, 3 * k : 3 * k + 6] += turned.T @ local @ turned
    # it may turn about the core as it likes: a hair holds it there
    back, hard = 3 * (count // 2), 1e-2 * rows.max()
    round_it = np.array([-out[count // 2, 1], out[count // 2, 0]])
    rows[back : back + 2, back : back + 2] += 1e-9 * rows.max() * np.outer(round_it, round_it)
    normals = np.zeros((count + 1, len(rows)))
    normals[np.arange(count + 1), 3 * np.arange(count + 1)] = out[:, 0]
    normals[np.arange(count + 1), 3 * np.arange(count + 1) + 1] = out[:, 1]
    meets = np.ones(count + 1, dtype=bool)
    for _ in range(4 * count):
        there = normals[meets]
        moved = np.linalg.solve(rows + hard * there.T @ there, hard * there.sum(axis=0))
        left = normals @ moved - 1.0
        if ((left < 0) == meets).all():
            break
        meets = left < 0
    turned_by = np.diff(moved[2::3]) / np.hypot(*np.diff(at, axis=0).T)
    return float(hard * -left[meets].sum()), float(np.abs(turned_by * (wall[1:] + wall[:-1]) / 4).max())


def _knurl(a: Mapping[str, Any], gap_mm: float, f: Filament, dice: random.Random) -> Outcome:
    """A knurl driven in: each tooth's groove is ploughed slice by slice; what it pushes aside must find room beside it."""
    over = -gap_mm - f.skin
    ring = a["stuff"]
    if over < 0.06 * a["tooth"]:
        return Outcome("loose", "It turns in its hole: the teeth hardly bite.")
    if over > a["tooth"]:
        return Outcome("too tight", "The teeth are in to their roots and the wall itself is in the way.")
    flows = (1.1 + 0.6 * dice.random()) * ring["strength_mpa"]
    push = 0.0
    for k in range(_PIECES):
        # the hole closes a little behind the front, so the flanks that lie in already press with less and less
        push += (
            a["engaged"]
            / _PIECES
            * 2
            * math.sqrt(2)
            * over
            * flows
            * min(ring["friction"], a["core"]["friction"])
            * f.rough
            * (1 - 0.4 * k / _PIECES)
        )
    push = a["count"] * (push + flows * over**2)
    pressure = 0.8 * a["count"] * flows * 2 * over / (math.pi * a["diameter"])
    strain = _strained_by(pressure, a, f)
    if _cracks(strain, ring, f, dice):
        return Outcome("broke", "The wall round it cracked while it was driven in.")
    if push > MALLET_N:
        return Outcome("too tight", f"It would take {push:.0f} N: no mallet drives it home.")
    how = "by hand" if push < HAND_N else "with a mallet or a vice"
    return Outcome("good", f"It went in {how}, with about {push:.0f} N, and does not turn.")


def _rail(a: Mapping[str, Any], gap_mm: float, f: Filament, dice: random.Random) -> Outcome:
    """A rail in its slot: sides that hang over sag into the gap, and a long rail is never quite straight."""
    sag = max(0.0, math.degrees(a["slant"]) - 40) * 0.008 if a["lying"] else 0.0
    left = gap_mm - sag - 2e-6 * a["engaged"] ** 2 * dice.random()
    if left < 0.01:
        return Outcome("too tight", "It sticks after a part of the way.")
    return Outcome("good", f"It slides by hand, with {left / math.cos(a['slant']):.2f} mm of play to each side.")


def _drive(a: Mapping[str, Any], gap_mm: float, f: Filament, dice: random.Random) -> Outcome:
    """A shaped shaft in its hole: corners that a nozzle swells stand in the way before the sides do."""
    left = gap_mm - 0.3 * f.rounded
    if left < -0.02:
        return Outcome("too tight", "Its corners jam before it is in.")
    # turned in small steps until the end of a side, worn by what the nozzle rounds off, meets the wall
    out = math.hypot(a["lever"], a["flat"]) - 0.5 * f.rounded
    start = math.atan2(a["lever"], a["flat"])
    turn = 0.0
    while out * math.cos(start - turn) < a["flat"] + gap_mm:
        turn += 0.002
        if turn > start:
            return Outcome("loose", "It goes in, and turns in its hole without taking the other along.")
    return Outcome("good", f"It goes in and takes the other along, with {math.degrees(turn):.1f}° of play.")


def _key(a: Mapping[str, Any], gap_mm: float, f: Filament, dice: random.Random) -> Outcome:
    """A key in its slot: it swells at its corners, and is never quite in line with the axis."""
    left = gap_mm - 0.2 * f.rounded - 4e-4 * a["engaged"] * dice.random()
    if left < -0.02:
        return Outcome("too tight", "The key jams in its slot after a part of the way.")
    return Outcome(
        "good",
        f"It slides in and takes the other along, with {math.degrees(max(left, 0.0) / a['lever']):.1f}° of play to each side.",
    )


def _hinge(a: Mapping[str, Any], gap_mm: float, f: Filament, dice: random.Random) -> Outcome:
    """A pin in its knuckles: what is printed in place grows together where strings and sagging beads bridge the gap."""
    bridged = 0.04 + 0.08 * dice.random()
    if a["in_place"] and gap_mm < bridged:
        return Outcome("too tight", "It does not turn: the pin grew together with its holes.")
    if not a["in_place"] and gap_mm < 0.0:
        return Outcome("too tight", "The pin does not go through all knuckles.")
    wobble = math.degrees(2 * max(gap_mm, 0.0) / a["held"])
    return Outcome("good", f"It turns freely, with {wobble:.1f}° of wobble.")


def _thread(a: Mapping[str, Any], gap_mm: float, f: Filament, dice: random.Random) -> Outcome:
    """A screw in its hole: too fine for the layers it does not start; with crests rounded off it may jump over."""
    if a["upright"] and a["pitch"] / a["layer"] < f.layers:
        return Outcome("too tight", "It does not start: its turns are so few layers high that they are smeared over.")
    meets = a["deep"] - gap_mm - f.rounded * dice.uniform(0.8, 1.2)
    if meets < 0.3 * a["deep"]:
        return Outcome("loose", "It jumps over when it is pulled.")
    play = 2 * max(gap_mm, 0.0) * math.tan(a["half"])
    return Outcome("good", f"It turns by hand, with {play:.2f} mm of play along its axis.")


_KINDS: dict[str, Callable[[Mapping[str, Any], float, Filament, random.Random], Outcome]] = {
    "arm": _arm, "ring": _ring, "ribs": _ribs, "rail": _rail, "hinge": _hinge, "thread": _thread,
    "bead": _bead, "drive": _drive, "lever": _lever, "key": _key, "split": _split, "knurl": _knurl,
}  # fmt: skip


def try_out(acts: Mapping[str, Any], gap_mm: float, machine: int, dice: random.Random) -> Outcome:
    """Two halves tried whose gap came out so, mm a side (negative where they overlap). Raises KeyError for a kind that nobody here has hands for."""
    return _KINDS[acts["kind"]](acts, gap_mm, filament_of(machine), dice)
