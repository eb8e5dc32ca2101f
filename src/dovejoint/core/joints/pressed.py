"""What a press fit works out, for all families that press something round into something: Lamé's rings over all cases."""

from __future__ import annotations

import numpy as np

from ..calculators.press import PressFit, Rings
from .wall_round import CutWall, cut_wall
from .working import Array, Draws, Given, Plot, Result, Working

__all__ = ["CREEP", "cut_acts", "cut_away", "in_pieces", "pressed", "strain_round"]

#: PRACTICE: what is left of a pressure in plastic after months at room temperature, low, usual and high
CREEP = (0.3, 0.45, 0.6)
#: PRACTICE: what takes less to be pushed out is not held, N
HELD_N = 2.0
#: how much warmer a thing on a bench gets than the room it was printed for, K
WARMER_K = 30.0
#: what is said where a part of the wall is cut away
_BY_CUTS = ", and both as much less firm and more strained as curved beams (Winkler and Bach) are that have the same cuts; what sharp corners of a cut add is left out."
#: points of the plot
_POINTS = 25


def strain_round(draws: Draws, diameter_mm: float, pressure_mpa: Array, cut: CutWall | None) -> tuple[Array, Array]:
    """How a bore strains round under a pressure that is the same all round (Lamé's ring, as thick as its wall where that is thinnest, and what cuts do to it), and what it bears."""
    outer, d = draws.outer, diameter_mm
    outside = d + 2 * draws.facts["wall"]
    hoop = pressure_mpa * ((outside**2 + d**2) / (outside**2 - d**2))
    more = cut.strained / cut.firm if cut else 1.0
    return (hoop + outer.material.poisson * pressure_mpa) / outer.modulus_mpa * more, outer.round_limit()[0]


def pressed(draws: Draws) -> Working:
    """A round press fit: ``facts`` has ``diameter``, ``wall`` (round the bore, at its thinnest), ``engaged`` and ``hollow`` (0 when solid), mm, and what of the wall is cut away. A wall that is
    cut presses less and is strained more than a whole one, as curved beams say; both are Lamé's times those ratios."""
    facts, outer, inner = draws.facts, draws.outer, draws.inner
    d, wall, length = facts["diameter"], facts["wall"], facts["engaged"]
    cut = cut_wall(facts, d / 2, outer.material.poisson)
    firm, strained = (cut.firm, cut.strained) if cut else (1.0, 1.0)
    rings = Rings(
        d, d + 2 * wall, facts["hollow"], outer.modulus_mpa * firm, outer.material.poisson, inner.modulus_mpa, inner.material.poisson
    )  # fmt: skip
    interference = np.maximum(-2 * draws.gap_mm, 0.0)
    fit = rings.pressed(interference)
    limit, weakened = outer.round_limit()
    push = fit.push_n(draws.friction, length)
    apart = outer.expansion_per_k - inner.expansion_per_k
    warm = rings.pressed(interference - d * apart * WARMER_K)
    kept = CREEP if outer.material.plastic else (1.0, 1.0, 1.0)
    across = " (its layers are pulled apart)" if weakened < 0.75 and outer.material.plastic else ""
    results = (
        Result("interference on diameter", interference, "mm"),
        Result("pressure", fit.pressure_mpa, "MPa"),
        Result("strain round the bore", 100 * fit.strain * strained, "%", 100 * limit, "most", "the wall cracks", f"of {outer.name}{across}", bears=outer.bears),
        Result("stress round the bore", fit.hoop_mpa * strained / firm, "MPa"),
        # a closed wall that presses at all presses hard; one that is open is a spring
        Result("force to push it in or out", push, "N", *((HELD_N, "least", "it turns by itself") if cut and cut.opened else ())),
        Result("the same after months", push * kept[1], "N", note=f"{kept[0]:g} to {kept[2]:g} of it, for plastic gives way"),
        Result("turning moment it holds", push * d / 2 / 1000, "N·m"),
        Result(f"pressure {WARMER_K:g} K warmer", warm.pressure_mpa, "MPa"),
    )  # fmt: skip
    givens = (
        Given("diameter", d, "mm"),
        Given("wall round it, where thinnest", wall, "mm", "read on the solids"),
        *cut_away(cut),
        Given("length that meets", length, "mm"),
        Given(f"stiffness of {outer.name}", float(outer.modulus_mpa[0]), "MPa"),
        Given(f"stiffness of {inner.name}", float(inner.modulus_mpa[0]), "MPa"),
        Given("friction", float(draws.friction[0]), ""),
    )
    acts = {
        "kind": "ring", "diameter": d, "wall": wall, "engaged": length, "hollow": facts["hollow"], "stuff": outer.usual(), "core": inner.usual(),
        **cut_acts(cut),
    }  # fmt: skip
    return Working(
        "Press fit", givens, results, (_plot(rings, fit, strained, limit, interference),),
        f"Lamé's thick rings, plane stress; the wall is taken to be as thin all round as where it is thinnest{'.' if cut is None else _BY_CUTS}", acts,
    )  # fmt: skip


def in_pieces(draws: Draws) -> Working | None:
    """What is said of a wall that is open at several places: each piece is held by what it stands on, which a ring says nothing of."""
    try:
        cut_wall(draws.facts, draws.facts["diameter"] / 2, draws.outer.material.poisson)
    except ValueError:
        pass
    else:
        return None
    note = "the wall round it is open at several places: no ring presses it, and what its pieces press with is not worked out"
    interference = Result("interference on diameter", np.maximum(-2 * draws.gap_mm, 0.0), "mm", note=note)
    givens = (
        Given("diameter", draws.facts["diameter"], "mm"),
        Given("length that meets", draws.facts["engaged"], "mm"),
    )
    return Working("Press fit", givens, (interference,))


def cut_away(cut: CutWall | None) -> tuple[Given, ...]:
    """What is said of cuts among what a calculation begins with."""
    return () if cut is None else (Given("of its round is cut away", 100 * cut.gone, "%", "all through at a place" if cut.opened else "read on the solids"),)  # fmt: skip


def cut_acts(cut: CutWall | None) -> dict[str, object]:
    """What somebody who presses something into a cut wall meets."""
    return {} if cut is None else {"begins": cut.begins_mm, "walls": cut.walls_mm}


def _plot(rings: Rings, fit: PressFit, strained: float, limit: Array, interference: Array) -> Plot:
    """Strain over interference, in the usual case."""
    usual = Rings(
        rings.diameter_mm, rings.outside_mm, rings.bore_mm, float(np.ravel(rings.outer_modulus_mpa)[0]), rings.outer_poisson,
        float(np.ravel(rings.inner_modulus_mpa)[0]), rings.inner_poisson,
    )  # fmt: skip
    most = max(2 * float(interference[0]), 1.2 * float(np.quantile(interference, 0.98)), 0.05)
    across = np.linspace(0.0, most, _POINTS)
    up = 100 * usual.pressed(across).strain * strained
    return Plot(
        "interference on diameter, mm", "strain round the bore, %",
        tuple((float(a), float(b)) for a, b in zip(across, up, strict=True)), 100 * float(limit[0]),
        (float(interference[0]), 100 * float(fit.strain[0]) * strained),
    )  # fmt: skip
