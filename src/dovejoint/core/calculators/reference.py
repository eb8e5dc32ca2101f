"""The calculators' topics, each with its inputs and outputs by name. Importing registers them all."""

from __future__ import annotations

import math
import re
from typing import Any

from scipy.special import ndtr, ndtri

from ..quantities.iso286 import fit_of
from ..quantities.threads import COARSE_PITCH_MM, MetricThread, limits_for
from .arms import Arm, friction_factor, locking_angle_rad, quarter_arc, u_arm
from .cases import LOCKED, Inputs, degrees, register_topic
from .chain import Chain, uniform_below
from .play import Dovetail, in_layers, layers_of, printed_gap_mm, tilt_rad
from .press import Rings
from .rings import Ball, Ring, bar_stiffness, swing_rad
from .screws import bolt_strip_mm2, insert_pull_n, nut_strip_mm2

__all__: list[str] = []

#: a steel ring or pin, and a plastic hub, where a case gives neither
_STEEL_MPA, _STEEL_POISSON, _HUB_MPA, _HUB_POISSON = 210_000.0, 0.3, 1900.0, 0.38
_METALS = {"steel": (210_000.0, 0.3), "brass": (100_000.0, 0.34), "alumin": (70_000.0, 0.33)}


def _rad(inputs: Inputs, name: str) -> float:
    return math.radians(float(inputs[name]))


def _along(force_n: float, friction: float, ramp_rad: float) -> float | str:
    factor = float(friction_factor(friction, ramp_rad))
    return force_n * factor if math.isfinite(factor) else LOCKED


def _pushed(force_n: float, inputs: Inputs) -> dict[str, Any]:
    """Forces on the way in and out, as far as friction and ramps are given."""
    if "mu" not in inputs:
        return {}
    mu, out = float(inputs["mu"]), {}
    for name, angle in (("W_in_N", "lead_angle_deg"), ("W_out_N", "return_angle_deg")):
        if angle in inputs:
            out[name] = _along(force_n, mu, _rad(inputs, angle))
    return {**out, "self_lock_angle_deg": degrees(locking_angle_rad(mu))}


@register_topic("a cantilever snap", r"cantilever|straight arm", "L", "y")
def _arm(inputs: Inputs, text: str) -> dict[str, Any]:
    thick = float(inputs.get("h_root", inputs.get("h", 0)))
    wide = float(inputs.get("b_root", inputs.get("b", 0)))
    arm = Arm(float(inputs["L"]), thick, wide, float(inputs.get("h_tip", thick)), float(inputs.get("b_tip", wide)))
    strain = float(arm.strain(float(inputs["y"])))
    force = float(arm.force_n(strain, float(inputs["E_secant"])))
    at, times = arm.worst
    more = {"strain_max": strain * times, "max_at_share_of_length_from_tip": at} if times > 1.0005 else {}
    return {"C": arm.factor, "strain": strain, "strain_percent": 100 * strain, "P_N": force, **more, **_pushed(force, inputs)}  # fmt: skip


@register_topic("what a snap arm can give", r"inverse", "h", "eps", "L")
def _arm_inverse(inputs: Inputs, text: str) -> dict[str, Any]:
    length, thick, strain = (float(inputs[k]) for k in ("L", "h", "eps"))
    out = {"y_allowed": strain * length**2 / (1.5 * thick)}
    if "y_wanted" in inputs:
        out["L_needed_for_y"] = math.sqrt(1.5 * float(inputs["y_wanted"]) * thick / strain)
    return out


@register_topic("how long a snap arm must be", r"inverse", "h", "eps", "y")
def _arm_length(inputs: Inputs, text: str) -> dict[str, Any]:
    return {"L_needed_for_y": math.sqrt(1.5 * float(inputs["y"]) * float(inputs["h"]) / float(inputs["eps"]))}


@register_topic("how thick a snap arm may be", r"inverse", "L", "eps", "y")
def _arm_thick(inputs: Inputs, text: str) -> dict[str, Any]:
    return {"h_max": float(inputs["eps"]) * float(inputs["L"]) ** 2 / (1.5 * float(inputs["y"]))}


#: powers of an arm's figures in its strain and force: with the deflection kept, and with the strain kept
_POWERS = {
    "y": {"h": (1, 3), "l": (-2, -3), "b": (0, 1), "e": (0, 1), "y": (1, 1)},
    "eps": {"h": (0, 2), "l": (0, -1), "b": (0, 1), "e": (0, 1)},
}  # fmt: skip


@register_topic("how strain and force go with an arm's sizes", r"scaling", "change")
def _scaling(inputs: Inputs, text: str) -> dict[str, Any]:
    said = str(inputs["change"]).lower()
    kept = "eps" if re.search(r"fixed\s+(eps|strain)", said) else "y"
    strain = force = 1.0
    for what, by in re.findall(r"\b([hlbey])\s*[x×*]\s*([\d.]+)", said):
        powers = _POWERS[kept][what]
        strain, force = strain * float(by) ** powers[0], force * float(by) ** powers[1]
    return {"strain_factor": strain, "force_factor": force}


@register_topic("force along over force across", r"mating|separation|w[ _]over", "mu", "angle_deg")
def _factor(inputs: Inputs, text: str) -> dict[str, Any]:
    factor = float(friction_factor(float(inputs["mu"]), _rad(inputs, "angle_deg")))
    return {"W_over_P": factor if math.isfinite(factor) else "locked"}


@register_topic("a U-shaped arm", r"u-shaped|u arm", "L1", "L2", "R", "h", "b", "E_secant", "y")
def _u(inputs: Inputs, text: str) -> dict[str, Any]:
    bend = u_arm(*(float(inputs[k]) for k in ("L2", "R", "L1", "h", "b", "E_secant", "y")))
    return {
        "P_N": bend.force_n, "strain_max": bend.strain, "strain_root": bend.root_strain, "location": bend.where,
        "inner_fibre_factor_winkler": bend.inner_factor, **_pushed(bend.force_n, inputs),
    }  # fmt: skip


@register_topic("a quarter arc", r"quarter", "R", "h", "b", "E_secant", "y")
def _quarter(inputs: Inputs, text: str) -> dict[str, Any]:
    bend = quarter_arc(*(float(inputs[k]) for k in ("R", "h", "b", "E_secant", "y")))
    return {"P_N": bend.force_n, "strain_max": bend.strain, **_pushed(bend.force_n, inputs)}


@register_topic("a ring snap", r"annular|ring snap", "d", "t", "E", "y_diametral")
def _ring(inputs: Inputs, text: str) -> dict[str, Any]:
    d, wall, undercut, modulus = (float(inputs[k]) for k in ("d", "t", "y_diametral", "E"))
    ring = Ring(d, wall, undercut, modulus, float(inputs.get("nu", 0.38)))
    out: dict[str, Any] = {
        "strain": ring.strain, "strain_percent": 100 * ring.strain, "decay_length_1_over_lambda": ring.decay_mm,
        "Q_N_per_mm": ring.edge_load_n_mm, "P_end_N": ring.end_force_n, "P_remote_N": ring.far_force_n,
    }  # fmt: skip
    if "mu" in inputs and "angle_deg" in inputs:
        out["W_end_N"] = _along(ring.end_force_n, float(inputs["mu"]), _rad(inputs, "angle_deg"))
    return out


@register_topic("the strain of a ring snap", r"annular", "D_bead", "d_hole")
def _ring_strain(inputs: Inputs, text: str) -> dict[str, Any]:
    hole = float(inputs["d_hole"])
    return {"strain": (float(inputs["D_bead"]) - hole) / hole}


@register_topic("a ball in a slotted socket", r"ball", "ball_D", "wrap_beta_deg")
def _ball(inputs: Inputs, text: str) -> dict[str, Any]:
    size, wrap = float(inputs["ball_D"]), _rad(inputs, "wrap_beta_deg")
    fingers = int(inputs.get("fingers", 1))
    ball = Ball(size, wrap, float(inputs.get("finger_L", 1)), float(inputs.get("finger_h", 1)), fingers, float(inputs.get("slot_w", 0)))  # fmt: skip
    out: dict[str, Any] = {
        "d_open": ball.opening_mm, "undercut_diametral": ball.undercut_mm, "undercut_percent_of_D": 100 * ball.undercut_mm / size,
        "strain_unslotted": ball.whole_strain,
    }  # fmt: skip
    if all(k in inputs for k in ("finger_L", "finger_h", "fingers", "slot_w")):
        out |= {"strain_finger": ball.finger_strain, "finger_width_b": ball.wide_mm}
        if "E" in inputs:
            out["P_per_finger_N"] = ball.finger_force_n(float(inputs["E"]))
        if "E" in inputs and "mu" in inputs:
            force, angle = ball.pull(float(inputs["E"]), float(inputs["mu"]))
            out |= {"F_pull_peak_N": force, "lip_angle_at_peak_deg": degrees(angle)}
    if "post_d" in inputs:
        post = float(inputs["post_d"])
        out["swing_half_angle_deg"] = degrees(swing_rad(size, wrap, post))
        if "lip_straight_extra" in inputs:
            straight = float(inputs["lip_straight_extra"])
            out["swing_with_straight_lip_deg"] = degrees(swing_rad(size, wrap, post, straight))
    return out


@register_topic("how far a socket may wrap", r"wrap", "betas_deg")
def _wraps(inputs: Inputs, text: str) -> dict[str, Any]:
    cosines = [math.cos(math.radians(float(b))) for b in inputs["betas_deg"]]
    return {"undercut_pct": [100 * (1 - c) for c in cosines], "strain_unslotted_pct": [100 * (1 - c) / c for c in cosines]}  # fmt: skip


@register_topic("a round bar twisted", r"torsion", "r", "l", "angle_deg", "E")
def _round_bar(inputs: Inputs, text: str) -> dict[str, Any]:
    r, length, angle, nu = float(inputs["r"]), float(inputs["l"]), _rad(inputs, "angle_deg"), float(inputs.get("nu", 0.38))  # fmt: skip
    shear = float(inputs["E"]) / (2 * (1 + nu))
    gamma, torque = r * angle / length, shear * math.pi * r**4 / 2 * angle / length
    out = {"G": shear, "gamma": gamma, "gamma_percent": 100 * gamma, "equivalent_eps": gamma / (1 + nu), "T_one_bar_Nmm": torque}  # fmt: skip
    return {**out, "F_two_bars_N": 2 * torque / float(inputs["arm"])} if "arm" in inputs else out


@register_topic("a rectangular bar twisted", r"torsion", "a", "b", "l", "angle_deg", "E")
def _flat_bar(inputs: Inputs, text: str) -> dict[str, Any]:
    j, w = bar_stiffness(float(inputs["a"]), float(inputs["b"]))
    shear = float(inputs["E"]) / (2 * (1 + float(inputs.get("nu", 0.38))))
    torque = shear * j * _rad(inputs, "angle_deg") / float(inputs["l"])
    out = {"J": j, "W": w, "T_Nmm": torque, "tau_MPa": torque / w, "gamma": torque / w / shear}
    return {**out, "F_two_bars_N": 2 * torque / float(inputs["arm"])} if "arm" in inputs else out


@register_topic("a press fit", r"press fit", "d", "Do", "delta_DIAMETRAL")
def _press(inputs: Inputs, text: str) -> dict[str, Any]:
    d = float(inputs["d"])
    rings = Rings(
        d, float(inputs["Do"]), float(inputs.get("di", 0.0)), float(inputs.get("E_out", _HUB_MPA)), float(inputs.get("nu_out", _HUB_POISSON)),
        float(inputs.get("E_in", _STEEL_MPA)), float(inputs.get("nu_in", _STEEL_POISSON)),
    )  # fmt: skip
    delta = float(inputs["delta_DIAMETRAL"])
    fit = rings.pressed(delta)
    out: dict[str, Any] = {
        "p_MPa": float(fit.pressure_mpa), "hub_bore_hoop_MPa": float(fit.hoop_mpa), "hub_bore_von_mises_MPa": float(fit.mises_mpa),
        "hub_bore_hoop_strain": float(fit.strain), "inner_bore_hoop_MPa": float(fit.inner_hoop_mpa), "hub_outer_growth_mm": float(fit.growth_mm),
    }  # fmt: skip
    if "mu" in inputs and "L" in inputs:
        mu, length = float(inputs["mu"]), float(inputs["L"])
        out |= {"F_axial_N": float(fit.push_n(mu, length)), "T_Nmm": float(fit.torque_n_mm(mu, length))}
    if "alpha_in" in inputs and "alpha_out" in inputs:
        apart = float(inputs["alpha_out"]) - float(inputs["alpha_in"])
        if abs(apart) < 1e-12:
            out["dT_to_zero_interference_K"] = "never (same material)"
        else:
            out["dT_to_zero_interference_K"] = delta / (d * apart)
        out["temperature"] = {}
        for warm in (-40, 20, 40, 60):
            left = delta - d * apart * warm
            out["temperature"][f"{warm:+d}K"] = {"delta_mm": left, "p_MPa": float(rings.pressed(left).pressure_mpa)}
    return out


def _size_said(text: str, inputs: Inputs, name: str, words: str, otherwise: float) -> float:
    """A size from the inputs, or where a topic says it (“boss 16”)."""
    if name in inputs:
        return float(inputs[name])
    found = re.search(rf"(?:{words})\s+([\d.]+)", text)
    return float(found.group(1)) if found else otherwise


@register_topic("the pressures of an ISO fit", r"iso fit|pressure range", "fit")
def _iso_press(inputs: Inputs, text: str) -> dict[str, Any]:
    nominal, zones = str(inputs["fit"]).split(maxsplit=1)
    d = float(nominal.lstrip("Øø"))
    fit = fit_of(d, zones)
    metal = next((m for word, m in _METALS.items() if word in text), (_STEEL_MPA, _STEEL_POISSON))
    rings = Rings(
        d, _size_said(text, inputs, "Do", "boss|hub", 2 * d), float(inputs.get("di", 0.0)), float(inputs.get("E_out", _HUB_MPA)),
        float(inputs.get("nu_out", _HUB_POISSON)), float(inputs.get("E_in", metal[0])), float(inputs.get("nu_in", metal[1])),
    )  # fmt: skip
    low, high = max(0.0, -fit.most_um / 1000), max(0.0, -fit.least_um / 1000)
    return {
        "delta_min_mm": low, "delta_max_mm": high, "p_min_MPa": float(rings.pressed(low).pressure_mpa),
        "p_max_MPa": float(rings.pressed(high).pressure_mpa),
    }  # fmt: skip


@register_topic("the strain round a metal pin", r"quick check|metal pin", "d", "delta")
def _rigid(inputs: Inputs, text: str) -> dict[str, Any]:
    return {"strain": float(inputs["delta"]) / float(inputs["d"])}


@register_topic("a press in a very thick wall", r"infinity|thick wall", "d", "E", "nu", "delta")
def _thick(inputs: Inputs, text: str) -> dict[str, Any]:
    return {"p_MPa": float(inputs["delta"]) * float(inputs["E"]) / (float(inputs["d"]) * (1 + float(inputs["nu"])))}


@register_topic("the stripping of a thread", r"strip", "d", "P", "Le")
def _strip(inputs: Inputs, text: str) -> dict[str, Any]:
    d, pitch, engaged = (float(inputs[k]) for k in ("d", "P", "Le"))
    basic, known = MetricThread(d, pitch), limits_for(d, pitch)
    # where no limits are given or in the table the thread counts at its basic size
    major = float(inputs.get("d_min", known.least_major_mm if known else d))
    nut_pitch = float(inputs.get("D2_max", known.most_pitch_mm if known else basic.pitch_diameter_mm))
    minor = float(inputs.get("D1_max", known.most_minor_mm if known else basic.minor_mm))
    bolt_pitch = float(inputs.get("d2_min", known.least_pitch_mm if known else basic.pitch_diameter_mm))
    nut = float(nut_strip_mm2(engaged, pitch, major, nut_pitch))
    out = {
        "An_internal_mm2": nut, "As_external_mm2": float(bolt_strip_mm2(engaged, pitch, minor, bolt_pitch)),
        "basic_size_An": float(nut_strip_mm2(engaged, pitch, d, basic.pitch_diameter_mm)),
        "basic_size_As": float(bolt_strip_mm2(engaged, pitch, basic.minor_mm, basic.pitch_diameter_mm)),
    }  # fmt: skip
    if "tau_MPa" in inputs:
        out["F_internal_N"] = float(inputs["tau_MPa"]) * nut
    if "c" in inputs:
        out["An_no_clearance"] = nut
        out["An_with_clearance"] = float(nut_strip_mm2(engaged, pitch, major, nut_pitch + float(inputs["c"])))
    return out


@register_topic("the pull-out of an insert", r"insert", "D", "L", "tau_MPa")
def _insert(inputs: Inputs, text: str) -> dict[str, Any]:
    share = float(inputs.get("efficiency", 0.5))
    return {"F_N": insert_pull_n(float(inputs["D"]), float(inputs["L"]), float(inputs["tau_MPa"]), share)}


@register_topic("the engagement at which the screw yields first", r"engagement", "sigma", "tau")
def _engagement(inputs: Inputs, text: str) -> dict[str, Any]:
    named = re.fullmatch(r"[Mm]\s*([\d.]+)(?:\s*[x×]\s*([\d.]+))?", str(inputs.get("name", "")))
    d = float(named.group(1)) if named else float(inputs["d"])
    pitch = float(named.group(2)) if named and named.group(2) else float(inputs.get("P", COARSE_PITCH_MM.get(d, 0.0)))
    limits, basic = limits_for(d, pitch), MetricThread(d, pitch)
    area = float(inputs.get("As", basic.stress_area_mm2))
    major = float(inputs.get("d_min", limits.least_major_mm if limits else d))
    nut_pitch = float(inputs.get("D2_max", limits.most_pitch_mm if limits else basic.pitch_diameter_mm))
    each = float(nut_strip_mm2(1.0, pitch, major, nut_pitch))
    return {"Le_mm": float(inputs["sigma"]) * area / (float(inputs["tau"]) * each)}


@register_topic("the play of a pin in a hole", r"tilt", "D", "d", "L")
def _tilt(inputs: Inputs, text: str) -> dict[str, Any]:
    hole, pin, length = (float(inputs[k]) for k in ("D", "d", "L"))
    angle = tilt_rad(hole, pin, length)
    return {"tilt_deg": degrees(angle), "approx_deg": degrees((hole - pin) / length), "end_play_at_100mm": 100 * math.tan(angle)}  # fmt: skip


@register_topic("clearances of pin hinges (practice)", r"hinge")
def _hinges(inputs: Inputs, text: str) -> dict[str, Any]:
    return {
        "separate_printed_pin_diametral": [0.2, 0.5], "metal_pin_drilled_bore": [0.05, 0.15], "print_in_place_radial": [0.3, 0.5],
        "knuckle_axial_each": [0.3, 0.6], "default_print_in_place_radial": 0.4,
    }  # fmt: skip


@register_topic("a dovetail over pins", r"dovetail", "w_narrow", "angle_deg", "height", "pin_d")
def _dovetail(inputs: Inputs, text: str) -> dict[str, Any]:
    tail = Dovetail(float(inputs["w_narrow"]), float(inputs["height"]), _rad(inputs, "angle_deg"))
    pin = float(inputs["pin_d"])
    return {"W_wide": tail.wide_mm, "M_over_pins": tail.over_pins_mm(pin), "Mi_between_pins": tail.between_pins_mm(pin)}


@register_topic("the play of a dovetail", r"dovetail", "angle_deg", "normal_gap")
def _dovetail_gap(inputs: Inputs, text: str) -> dict[str, Any]:
    tail, gap = Dovetail(10.0, 5.0, _rad(inputs, "angle_deg")), float(inputs["normal_gap"])
    side = tail.sideways_mm(gap)
    return {"horizontal_each_side": side, "total_side_play": 2 * side, "lift_until_contact": tail.lift_mm(gap)}


@register_topic("a chain of dimensions", r"stack|chain", "nominal_gap", "terms")
def _stack(inputs: Inputs, text: str) -> dict[str, Any]:
    terms = [(float(t["sensitivity"]), float(t["tol"])) for t in inputs["terms"]]
    chain = Chain(float(inputs["nominal_gap"]), terms, float(inputs.get("Cp") or 1.0))
    low, high = inputs.get("limit_low"), inputs.get("limit_high")
    out: dict[str, Any] = {
        "nominal_gap": chain.gap_mm, "worst_case": list(chain.worst_mm), "rss": [chain.gap_mm - chain.squares_mm, chain.gap_mm + chain.squares_mm],
        "sigma_gap": chain.sigma_mm,
    }  # fmt: skip
    if low is not None:
        out["ppm_below"] = 1e6 * chain.below(float(low))
    if high is not None:
        out["ppm_above"] = 1e6 * chain.above(float(high))
    rooms = [s * (chain.gap_mm - float(limit)) for s, limit in ((1, low), (-1, high)) if limit is not None]
    return {**out, "Cpk_gap": min(rooms) / (3 * chain.sigma_mm)} if rooms else out


@register_topic(
    "a chain of dimensions that lie anywhere within their limits", r"rectangular|uniform", "nominal_gap", "tols"
)
def _uniform(inputs: Inputs, text: str) -> dict[str, Any]:
    tols, gap = [float(t) for t in inputs["tols"]], float(inputs["nominal_gap"])
    limit = float(inputs.get("limit_low") or 0.0)
    sigma = math.sqrt(sum(t * t for t in tols) / 3)
    name = "ppm_below_0" if limit == 0 else "ppm_below"
    return {"sigma": sigma, name: 1e6 * uniform_below(gap, tols, limit), "normal_approx_ppm": 1e6 * float(ndtr((limit - gap) / sigma))}  # fmt: skip


@register_topic("what a count of random tries must come out as", r"monte", "p", "N")
def _tries(inputs: Inputs, text: str) -> dict[str, Any]:
    p, n = float(inputs["p"]), float(inputs["N"])
    error = math.sqrt(p * (1 - p) / n)
    return {"se": error, "ppm_low": 1e6 * (p - 4 * error), "ppm_high": 1e6 * (p + 4 * error)}


@register_topic("capability and what falls out of its limits", r"capability|cp to|centred", "Cp")
def _capable(inputs: Inputs, text: str) -> dict[str, Any]:
    given = inputs["Cp"] if isinstance(inputs["Cp"], list) else [inputs["Cp"]]
    sides = 1 if "one-sided" in text else 2
    ppm = [sides * 1e6 * float(ndtr(-3 * float(cp))) for cp in given]
    return {"ppm": ppm if isinstance(inputs["Cp"], list) else ppm[0]}


@register_topic("capability off centre", r"off.cent|cpk|capability", "LSL", "USL", "mean", "sigma")
def _off_centre(inputs: Inputs, text: str) -> dict[str, Any]:
    low, high, mean, sigma = (float(inputs[k]) for k in ("LSL", "USL", "mean", "sigma"))
    ppm = 1e6 * float(ndtr((low - mean) / sigma) + ndtr((mean - high) / sigma))
    return {"Cp": (high - low) / (6 * sigma), "Cpk": min(mean - low, high - mean) / (3 * sigma), "ppm": ppm}


@register_topic("levels of sigma with the usual shift", r"sigma", "sigma_level")
def _levels(inputs: Inputs, text: str) -> dict[str, Any]:
    return {"ppm": 1e6 * float(ndtr(float(inputs.get("shift", 1.5)) - float(inputs["sigma_level"])))}


@register_topic("two pins in two holes", r"two pins", "pitch_pins", "pitch_holes", "d", "D")
def _two_pins(inputs: Inputs, text: str) -> dict[str, Any]:
    needed = abs(float(inputs["pitch_pins"]) - float(inputs["pitch_holes"]))
    first = float(inputs["D"]) - float(inputs["d"])
    second = float(inputs.get("D2", inputs["D"])) - float(inputs.get("d2", inputs["d"]))
    available = first / 2 + second / 2
    return {"needed": needed, "available": available, "fits": bool(min(first, second) >= 0 and needed <= available + 1e-12)}  # fmt: skip


@register_topic("the hole of a fixed fastener", r"fixed fastener", "F", "T1", "T2")
def _fixed(inputs: Inputs, text: str) -> dict[str, Any]:
    return {"H": float(inputs["F"]) + float(inputs["T1"]) + float(inputs["T2"])}


@register_topic("the hole of a floating fastener", r"floating fastener", "F", "T")
def _floating(inputs: Inputs, text: str) -> dict[str, Any]:
    return {"H": float(inputs["F"]) + float(inputs["T"])}


@register_topic("the chance that a pin enters", r"probability|chance", "mean_clearance", "sigma_hole", "sigma_shaft")
def _enters(inputs: Inputs, text: str) -> dict[str, Any]:
    mean, sigma = float(inputs["mean_clearance"]), math.hypot(float(inputs["sigma_hole"]), float(inputs["sigma_shaft"]))
    far = float(ndtri(0.95)) * sigma
    return {"P_interfere_ppm": 1e6 * float(ndtr(-mean / sigma)), "clearance_p05": mean - far, "clearance_p95": mean + far}  # fmt: skip


@register_topic("an upright gap in whole layers", r"vertical|whole layers", "gap", "layer")
def _layers(inputs: Inputs, text: str) -> dict[str, Any]:
    gap, layer = float(inputs["gap"]), float(inputs["layer"])
    return {"z_gap": in_layers(gap, layer), "layers": layers_of(gap, layer)}


@register_topic(
    "a level gap of parts printed in one another",
    r"horizontal gap|print-in-place",
    "outer_growth",
    "hole_shrink",
    "sigma",
)
def _in_place(inputs: Inputs, text: str) -> dict[str, Any]:
    growth, shrink, sigma = (float(inputs[k]) for k in ("outer_growth", "hole_shrink", "sigma"))
    return {"g_min": printed_gap_mm(growth, shrink, sigma, float(inputs.get("z", 3.0)), float(inputs.get("film", 0.05)))}  # fmt: skip
