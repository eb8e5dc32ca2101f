"""The calculators against worked cases whose figures come from elsewhere, and against other routes to the same thing."""

from __future__ import annotations

import json
import math
import re
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from dovejoint.core.calculators import Arm, Rings, answer, flank_overlap_mm, topics
from dovejoint.core.calculators.rings import Ball
from dovejoint.core.errors import CommandError
from dovejoint.core.quantities.threads import COARSE_PITCH_MM, THREAD_LIMITS, MetricThread

REFERENCE = Path(__file__).parent.parent / "reference"
CASES = json.loads((REFERENCE / "joints.json").read_text())["cases"]


def agree(found: Any, wanted: Any, rel: float, where: str) -> None:
    if isinstance(wanted, dict):
        for key, value in wanted.items():
            assert key in found, f"{where}: {key} is not among {sorted(found)}"
            agree(found[key], value, rel, f"{where}.{key}")
    elif isinstance(wanted, list):
        assert len(found) == len(wanted), where
        for k, value in enumerate(wanted):
            agree(found[k], value, rel, f"{where}[{k}]")
    elif isinstance(wanted, bool | str) or wanted is None:
        assert found == wanted, where
    else:
        assert found == pytest.approx(wanted, rel=rel, abs=1e-9), where


@pytest.mark.parametrize("case", CASES, ids=lambda c: c["id"])
def test_every_worked_case(case: dict[str, Any]) -> None:
    found = answer({"topic": case["topic"], "inputs": case["inputs"]})["outputs"]
    if case["id"] == "stack_uniform":
        # a tail of sums that no normal law has: the case allows three in a hundred
        assert found["ppm_below_0"] == pytest.approx(case["outputs"]["ppm_below_0"], rel=0.005)
    agree(found, case["outputs"], case["rel_tol"], case["id"])


def test_a_case_that_cannot_be_answered_says_why() -> None:
    for case, why in (
        ({"topic": "the colour of the moon", "inputs": {}}, "no calculation for"),
        ({"topic": "cantilever snap", "inputs": {"h": 2}}, "missing: L, y"),
        (
            {"topic": "cantilever snap", "inputs": {"L": 0, "h": 2, "b": 1, "y": 1, "E_secant": 2000}},
            "divides by nothing",
        ),
        (
            {"topic": "cantilever snap", "inputs": {"L": "long", "h": 2, "b": 1, "y": 1, "E_secant": 2000}},
            "out of its range",
        ),
        ({"topic": "two pins", "inputs": {"pitch_pins": [], "pitch_holes": 1, "d": 1, "D": 2}}, "no number"),
        ([], "an object with a topic"),
        ({"topic": 3}, "an object with a topic"),
    ):
        with pytest.raises(CommandError, match=why):
            answer(case)


def test_each_topic_has_a_case() -> None:
    texts = [(c["topic"].lower(), c["inputs"]) for c in CASES]
    unseen = [
        t.name for t in topics() if not any(re.search(t.words, x) and all(k in i for k in t.needs) for x, i in texts)
    ]
    assert unseen == ["how long a snap arm must be", "the hole of a floating fastener"]
    assert answer({"topic": "inverse", "inputs": {"h": 2, "eps": 0.015, "y": 1.0}})["outputs"][
        "L_needed_for_y"
    ] == pytest.approx(14.1421, rel=1e-5)
    assert answer({"topic": "floating fastener", "inputs": {"F": 3, "T": 0.4}})["outputs"] == {"H": 3.4}


@pytest.mark.parametrize(("tip", "tip_wide"), [(2.0, 6.0), (1.0, 6.0), (2.0, 1.5), (1.3, 3.0), (0.7, 6.0)])
def test_arms_against_a_beam_in_small_pieces(tip: float, tip_wide: float) -> None:
    """A chain of 4,000 short pieces, each bent by its own moment: no integral of ours."""
    length, root, wide, force, modulus = 15.0, 2.0, 6.0, 5.0, 2000.0
    n = 4000
    step = length / n
    slope = sag = peak = 0.0
    for k in range(n):
        # from the root out
        x = (k + 0.5) * step
        h = root + (tip - root) * x / length
        b = wide + (tip_wide - wide) * x / length
        moment = force * (length - x)
        turn = moment / (modulus * b * h**3 / 12) * step
        sag += slope * step + turn * step / 2
        slope += turn
        peak = max(peak, moment * h / 2 / (modulus * b * h**3 / 12))
    arm = Arm(length, root, wide, tip, tip_wide)
    strain = float(arm.strain(sag))
    assert float(arm.force_n(strain, modulus)) == pytest.approx(force, rel=1e-3)
    assert strain * arm.worst[1] == pytest.approx(peak, rel=2e-3)


def test_a_press_fit_against_rings_in_small_steps() -> None:
    """Lamé's equations by finite differences on both rings, which meet at one radius: u'' + u'/r − u/r² = 0."""
    d, do, di, eo, no, ei, ni, delta = 10.0, 18.0, 6.0, 1900.0, 0.37, 100_000.0, 0.34, 0.1

    def outward_per_pressure(a: float, b: float, modulus: float, poisson: float, inside: bool) -> float:
        n = 2001
        r = np.linspace(a, b, n)
        h = r[1] - r[0]
        m, rhs = np.zeros((3, n)), np.zeros(n)
        m[0, 2:] = (1 / h**2 + 1 / (2 * h * r))[1:-1]
        m[1, 1:-1] = (-2 / h**2 - 1 / r**2)[1:-1]
        m[2, :-2] = (1 / h**2 - 1 / (2 * h * r))[1:-1]
        full = np.zeros((n, n))
        i = np.arange(1, n - 1)
        full[i, i - 1], full[i, i], full[i, i + 1] = m[2, :-2], m[1, 1:-1], m[0, 2:]
        c = modulus / (1 - poisson**2)
        full[0, :3] = np.array([-1.5, 2, -0.5]) / h * c
        full[0, 0] += c * poisson / r[0]
        full[-1, -3:] = np.array([0.5, -2, 1.5]) / h * c
        full[-1, -1] += c * poisson / r[-1]
        rhs[0 if inside else -1] = -1.0
        u = np.linalg.solve(full, rhs)
        return float(u[0] if inside else u[-1])

    give = outward_per_pressure(d / 2, do / 2, eo, no, True) - outward_per_pressure(di / 2, d / 2, ei, ni, False)
    pressure = delta / 2 / give
    assert float(Rings(d, do, di, eo, no, ei, ni).pressed(delta).pressure_mpa) == pytest.approx(pressure, rel=1e-3)


def test_threads_are_those_of_the_standard() -> None:
    data = json.loads((REFERENCE / "threads.json").read_text())
    for row in data["sizes"]:
        thread = MetricThread(row["d"], row["pitch"])
        for name, found in (("d2", thread.pitch_diameter_mm), ("D1", thread.minor_mm), ("d3", thread.root_mm)):
            assert found == pytest.approx(row[name], abs=6e-4), (row["name"], name)
        assert thread.stress_area_mm2 == pytest.approx(row["As_table"], rel=0.006)
        if row["series"] == "coarse" and row["name"] != "M7":
            assert COARSE_PITCH_MM[row["d"]] == row["pitch"]
    for row in data["limits_6g_6H"]:
        limits = THREAD_LIMITS[(float(row["name"][1:]), float(row["pitch"]))]
        assert limits.least_major_mm == row["bolt_6g"]["d_min"] and limits.most_pitch_mm == row["nut_6H"]["D2_max"]
    for row in data["engagement_with_clearance"]:
        assert float(flank_overlap_mm(row["P"], row["diametral_clearance"])) == pytest.approx(
            row["remaining_overlap"], abs=1e-4
        )


def test_a_slotted_socket_lets_go_by_the_energy_that_its_fingers_take() -> None:
    """What a frictionless ball does on the way out is what its fingers keep: ∫F ds = n·½·k·y²."""
    ball = Ball(10.0, math.radians(20), 9.0, 1.5, 4, 1.0)
    angles = np.linspace(ball.wrap_rad, 0.0, 20001)
    # the lip touches at the height R·sin φ over the equator: the ball moves out as φ falls
    height = ball.diameter_mm / 2 * np.sin(angles)
    bend = ball.diameter_mm / 2 * (np.cos(angles) - math.cos(ball.wrap_rad))
    along = ball.fingers * ball.arm.force_n(ball.arm.strain(bend), 1800.0) * np.tan(angles)
    work = float(np.trapezoid(along, -height))
    assert work == pytest.approx(ball.fingers * ball.finger_force_n(1800.0) * ball.undercut_mm / 2 / 2, rel=1e-4)
