"""A ring of which parts are cut away (a keyway, a slot, a slit all through) and into which something round is pressed.

Each section is a thick curved beam (Winkler and Bach; e.g. Budynas and Nisbett, *Shigley's Mechanical Engineering Design*, ch. 3): plane sections stay plane, so that a
fibre at radius ρ is strained by ε = a/ρ + b. What pushes from inside points away from the centre, so the moment of what a section carries **about the centre** is the same in
all sections; only its pull changes. Sections are sheared too (a rectangle with six fifths). Where the core touches comes out of the calculation: it pushes and never pulls. Left out: radial squeeze
(so that results are used as ratios to a whole ring by the same beam), and what sharp inner corners add. Lengths mm, moduli MPa, forces N.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from .contacts import pushes_at

__all__ = ["CutRing", "cut_ring"]

#: sections between two places that may be touched: an even number, so that each place lies between two of them
_BETWEEN = 4


@dataclass(frozen=True)
class CutRing:
    """For each millimetre by which the core is larger, **a side**: ``force`` is that of all contacts together for each MPa of modulus and mm of
    length (N/mm/(MPa·mm)); ``strain`` is the greatest pull (1/mm)."""

    force: float
    strain: float


def cut_ring(bore_mm: float, begins_mm: Sequence[float], walls_mm: Sequence[float], poisson: float) -> CutRing:
    """A ring whose bore is ``bore_mm`` in radius, read at equal angles all round: ``begins_mm`` is how far behind the bore its material begins (0 where the wall stands), ``walls_mm`` how
    thick it is from there; 0 where it is open. Raises ValueError where no wall stands, or where it is open at several places, so that nothing ties its pieces.
    """
    begins, walls = np.asarray(begins_mm, dtype=float), np.asarray(walls_mm, dtype=float)
    stands = (begins < 1e-6) & (walls > 0)
    gone = walls <= 0
    if bore_mm <= 0 or len(walls) < 8 or not stands.any():
        raise ValueError("a ring has a bore and a wall round it")
    if int((gone & ~np.roll(gone, 1)).sum()) > 1:
        raise ValueError("a ring that is open at several places is none")
    count = len(walls)
    if gone.any():
        # from one end of what is left to the other: its first section is the first one behind the opening
        begin = int(np.flatnonzero(~gone & np.roll(gone, 1))[0])
        order = np.roll(np.arange(count), -begin)
        order = order[~gone[order]]
    else:
        order = np.arange(count)
    begins, walls, stands = begins[order], walls[order], stands[order]
    turn = 2 * math.pi / count / _BETWEEN
    at = (np.arange(len(order) * _BETWEEN) + 0.5) * turn
    inner = bore_mm + np.repeat(begins, _BETWEEN)
    outer = inner + np.repeat(walls, _BETWEEN)
    # of each section: [pull, moment about the centre] = E·K·[a, b]
    logs, wide, second = np.log(outer / inner), outer - inner, (outer**2 - inner**2) / 2
    soft = np.linalg.inv(np.stack([np.stack([logs, wide], -1), np.stack([wide, second], -1)], -2))
    # and of its shear, as a multiple of E
    sheared = 1.2 * 2 * (1 + poisson) * (inner + outer) / 2 / wide
    # a push in the middle of each place where the wall stands
    places = (np.flatnonzero(stands) + 0.5) * (2 * math.pi / count)
    out = np.array([np.cos(places), np.sin(places)])
    along, away = np.array([-np.sin(at), np.cos(at)]), np.array([np.cos(at), np.sin(at)])
    behind = at[:, None] > places[None, :]
    # what each section carries for each push: pull, moment about the centre, shear
    carried = np.stack([np.where(behind, -along.T @ out, 0.0), np.zeros(behind.shape), np.where(behind, -away.T @ out, 0.0)], 1)  # fmt: skip
    # and what a closed ring carries through its first section: a force of two parts, and the moment
    none, one = np.zeros(len(at)), np.ones(len(at))
    free = np.stack([np.stack([along[0], along[1], none], -1), np.stack([none, none, one], -1), np.stack([away[0], away[1], none], -1)], 1)  # fmt: skip
    root = np.zeros((len(at), 3, 3))
    root[:, :2, :2] = np.linalg.cholesky(soft).transpose(0, 2, 1) * math.sqrt(turn)
    root[:, 2, 2] = np.sqrt(sheared * turn)
    rows = (root @ carried).reshape(-1, len(places))
    loose = np.zeros((len(rows), 0)) if gone.any() else (root @ free).reshape(len(rows), 3)
    base = np.linalg.qr(loose)[0]
    rows = rows - base @ (base.T @ rows)
    pushes = pushes_at(places, rows)
    loads = carried @ pushes
    if not gone.any():
        loads = loads - free @ np.linalg.lstsq(loose, (root @ loads[:, :, None]).reshape(-1), rcond=None)[0]
    a, b = np.einsum("nij,nj->in", soft, loads[:, :2])
    return CutRing(float(pushes.sum()), float(np.maximum(a / inner + b, a / outer + b).max()))
