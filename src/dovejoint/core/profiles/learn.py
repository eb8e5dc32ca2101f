"""What readings and verdicts teach of a printer, from a stated prior on.

Readings
    Each is printed − drawn = row · terms + error (rows in belief.py). Its error has a share common to all features of one
    print (2·common on a size, outwards or inwards with its role), one of its feature (2·random; readings of one feature of one print share
    it, so reading it again teaches nothing of other prints; of what stands upright, also what whole layers leave), and one of its own (the hand and the caliper's rounding).
    Terms and errors being normal, the posterior is the usual one of Bayesian linear regression
    (e.g. Gelman et al., *Bayesian Data Analysis*, ch. 14):  K = V Aᵀ (A V Aᵀ + R)⁻¹,  m' = m + K (y − A m),  V' = V − K A V.
Misreadings
    What a reading errs by itself follows Student's t with ν = MISREAD_DOF degrees of freedom: its variance is that of a steady hand over a
    weight (ν + 1)/(ν + e²/hand²), with e² what is expected of its square given all readings, found again and again (the EM of Lange, Little and
    Taylor 1989), so that one far off counts hardly at all.
Scatter
    The prior's scatter counts like PRIOR_DOF readings. With q = (y − A m)ᵀ (A V Aᵀ + R)⁻¹ (y − A m), which is χ² with n degrees of
    freedom when prior and scatter are right, R is scaled by (PRIOR_DOF + q)/(PRIOR_DOF + n), and the regression done once more.
Besides
    What joints lose beside what readings find (``joint_10`` …) has the mean TAKEN_MM as soon as there is a reading; only verdicts teach more of it.
Verdicts
    A verdict on a joint is evidence on δ, what the print took of the gap in each direction (``law.py``), and on the flare: *good* says that
    room and play kept the wanted band, *too tight* that the room did not, *loose* that the play did not; one in forty is taken to be
    misjudged. Mean and covariance of δ under that replace those of the normal law (moment matching, as in assumed-density
    filtering, e.g. Opper and Winther 1998), and all terms move with δ by their covariance with it.
    Of a joint at stepped gaps all verdicts are one piece of evidence on the same δ, each with an error of its own piece: what the pieces share
    (their print, the half that they have in common) is not counted as if it had been seen several times.
Doubt of the prior
    Printers may lie farther from its middle than it says (SPREADS). All is learnt with each of these widths, and what is believed then
    is their mixture, each weighed by how well it foretold the evidence: where readings or verdicts disagree with the model, what is
    shown becomes less sure.
Kinds of printers
    A verdict cuts a piece out of what is believed, and what is left is not normal: after *too tight* it has an edge and a tail. Where little is known
    of a gap when the first verdict on it comes, the belief is divided into narrower normal laws (KINDS, side by side along what decides that gap), which each
    learn by themselves; the profile keeps those that are left as its ``kinds`` (a Gaussian sum filter: Sorenson and Alspach 1971).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtr

from ..document import Profile
from .belief import Belief, belief_of, size_row, with_belief
from .deviation import Mating, flare_left_mm, layers_leave_mm2, left_mm
from .law import Spread, even_zones, law_of, sides_of, spread_of
from .sides import Side

__all__ = ["GO_GAP_MM", "Ladder", "Learnt", "SizeReading", "Stepped", "Tried", "Verdict", "learn"]

Direction = tuple[float, float, float]
Array = NDArray[np.float64]
VERDICTS = ("too tight", "good", "loose", "broke")
#: the prior's scatter counts like so many readings
PRIOR_DOF = 12.0
MISJUDGED = 1 / 40
#: PRACTICE: how wide the prior may really be, times its standard deviation, and how much each is believed before anything is seen
SPREADS = ((1.0, 0.985), (2.0, 0.012), (3.5, 0.003))
#: PRACTICE: seams stand out (0.05 to 0.25 mm, along one line), walls bow, corners bulge: what a caliper does not find of a gap is never gained. So much a
#: side is reckoned with in joints 10, 30 and 100 mm wide once sizes are read; before that too little is known for it to matter, and what is too tight can be scraped
TAKEN_MM = np.array([0.012, 0.015, 0.025])
#: PRACTICE: a steady hand with a caliper, mm; how long the tails of readings are; and the weight below which one is named
HAND_MM, MISREAD_DOF, MISREAD_ROUNDS, SUSPICIOUS = 0.01, 4.0, 60, 0.1
#: PRACTICE: how much the first layers of one printer stand out differently from print to print, standard deviation, mm
FLARE_DRIFT_MM = 0.02
#: a reading so many standard deviations from what all others say of it is first taken for a misreading
FAR = 4.0
#: where a belief is divided, in standard deviations, and how much of it is there: normal laws half as wide, which side by side are as good as the whole
_AT = np.linspace(-2.4, 2.4, 9)
_LIKELY = np.exp(-(_AT**2) / (2 * (1 - 0.5**2)))
KINDS = _AT, _LIKELY / _LIKELY.sum()
#: it is divided where a gap is known no better than this, mm; of what is left so much is kept, in so many laws beside one for the rest, or in one where that is nearly all; and
#: what is left out on the way (of logarithms)
WIDE_MM, NEARLY_ALL, MOST_KINDS, ALONE, RULED_OUT = 0.06, 0.99, 6, 0.97, -7.0
#: so many chances and what came of them are kept
RECORD = 400
#: PRACTICE: a plug just goes in by hand at this printed gap a side, and how sharp that edge is, mm
GO_GAP_MM, GO_SHARP_MM = 0.03, 0.02


@dataclass(frozen=True)
class SizeReading:
    """One size read on one printed feature, mm. ``direction`` is in print coordinates, ``print_id`` tells prints apart, ``feature`` (where it is known)
    the features of a print. ``foot`` says that it was read where that feature stands on the bed, over what the first layers stand out there beyond a chamfer of ``chamfer_mm``."""

    role: Literal["outside", "inside"]
    direction: Direction
    drawn_mm: float
    measured_mm: float
    print_id: str
    round_hole: bool = False
    resolution_mm: float = 0.02
    feature: str = ""
    foot: bool = False
    chamfer_mm: float = 0.0


@dataclass(frozen=True)
class Verdict:
    """How one printed joint behaved: its drawn gap per side, what it needs, how its halves lay, and the drawn gaps on all its sides (empty
    where all were as drawn). ``load`` is how much of what its material usually bears was asked of it: where that is known, one that broke
    tells of the material, not of the gap."""

    drawn_mm: float
    least_mm: float
    most_mm: float
    verdict: Literal["too tight", "good", "loose", "broke"]
    mating: Mating
    sides: tuple[tuple[Side, ...], ...] = ()
    load: float | None = None

    @property
    def of_the_gap(self) -> bool:
        return self.load is None or self.verdict != "broke"


@dataclass(frozen=True)
class Ladder:
    """A plug tried in a row of openings with rising gaps: ``went_in`` is how many of the widest took it."""

    drawn_mm: tuple[float, ...]
    went_in: int
    mating: Mating


@dataclass(frozen=True)
class Stepped:
    """A joint whose halves were printed at several gaps and tried: for each the gap drawn per side, how it went, and how much of what its material
    bears was asked of it (``Verdict.load``). ``sides`` are those of the one in the middle; what it needs, and how its halves lay, is the same for all."""

    drawn_mm: tuple[float, ...]
    verdicts: tuple[Literal["too tight", "good", "loose", "broke"], ...]
    loads: tuple[float | None, ...]
    least_mm: float
    most_mm: float
    mating: Mating
    sides: tuple[tuple[Side, ...], ...] = ()

    @property
    def middle_mm(self) -> float:
        return middle_of(self.drawn_mm)


Tried = Verdict | Ladder | Stepped
Evidence = SizeReading | Tried


@dataclass(frozen=True, eq=False)
class Learnt:
    """The profile with what was learnt (its version not counted up), how many of each kind of evidence went into it, for each
    reading how far it lay from what is now expected (mm, in the order given), and the places (0-based) of readings that hardly count
    because they lie too far off."""

    profile: Profile
    readings: int
    verdicts: int
    residuals_mm: tuple[float, ...]
    suspicious: tuple[int, ...] = ()


@dataclass(frozen=True, eq=False)
class _State:
    """What is believed on the way: of the terms, of the scatter (a factor on its variance) and of the flare; ``log_likelihood`` of what was seen."""

    belief: Belief
    profile: Profile
    scale: float = 1.0
    log_likelihood: float = 0.0
    weights: tuple[float, ...] = ()


def learn(prior: Profile, evidence: Sequence[Evidence]) -> Learnt:
    """What a profile becomes by evidence. Its own covariance is the prior, so it must be the profile as it was unmeasured."""
    readings = [e for e in evidence if isinstance(e, SizeReading)]
    verdicts = [e for e in evidence if not isinstance(e, SizeReading)]
    if not evidence:
        return Learnt(prior, 0, 0, ())
    start = _besides(belief_of(prior)) if readings else belief_of(prior)
    sizes, feet = [r for r in readings if not r.foot], [r for r in readings if r.foot]
    read = _sizes_of(sizes, prior.settings.layer_mm) if sizes else None
    ends = [
        _read(
            _State(Belief(start.mean, k * k * start.covariance), prior, log_likelihood=math.log(w)), sizes, feet, read
        )
        for k, w in SPREADS
    ]
    told = [v for v in verdicts if not isinstance(v, Verdict) or v.of_the_gap]
    if told:
        # the wider ones are believed too little for their shape to matter
        ends = [*_divided(ends[0], told[0].mating), *ends[1:]]
    record = []
    for verdict in told:
        share = _shares(ends)
        heard = [_from_verdict(state, verdict) for state in ends]
        if isinstance(verdict, Verdict):
            record.append((float(share @ [shown for _, shown in heard]), verdict.verdict == "good"))
        ends = [state for state, _ in heard]
        # what was as good as ruled out learns no further
        most = max(e.log_likelihood for e in ends)
        ends = [e for e in ends if e.log_likelihood > most + RULED_OUT]
    share = _shares(ends)
    belief = _mixed([e.belief for e in ends], share)
    scale = float(share @ [e.scale for e in ends])
    flare, unsure = _both(share, [(e.profile.flare_mm, e.profile.flare_unsure_mm) for e in ends])
    height, height_unsure = _both(share, [(e.profile.flare_height_mm, e.profile.flare_height_unsure_mm) for e in ends])
    profile = prior.model_copy(update={
        "common_mm": round(prior.common_mm * math.sqrt(scale), 4),
        "random_mm": round(prior.random_mm * math.sqrt(scale), 4),
        "flare_mm": round(flare, 4),
        "flare_unsure_mm": round(unsure, 4),
        "flare_height_mm": round(height, 4),
        "flare_height_unsure_mm": round(height_unsure, 4),
        "record": [*prior.record, *((round(min(1.0, max(0.0, p)), 4), good) for p, good in record)][-RECORD:],
        "borne": [*prior.borne, *_borne(verdicts)][-RECORD // 2:],
    })  # fmt: skip
    residuals: tuple[float, ...] = ()
    suspicious: tuple[int, ...] = ()
    if readings:
        rows = np.array([size_row(r.role, r.direction, r.drawn_mm, r.round_hole) for r in readings])
        residuals = tuple(
            float(r.measured_mm - r.drawn_mm - e) - 2 * float(left_mm(flare, height, r.chamfer_mm)) * r.foot
            for r, e in zip(readings, rows @ belief.mean, strict=True)
        )
        weights = share @ np.array([e.weights for e in ends])
        places = [k for k, r in enumerate(readings) if not r.foot]
        suspicious = tuple(places[k] for k in np.flatnonzero(weights < SUSPICIOUS))
    count = sum(len(v.verdicts) if isinstance(v, Stepped) else 1 for v in verdicts)
    kinds = _kinds([e.belief for e in ends], share)
    return Learnt(with_belief(profile, belief, kinds), len(readings), count, residuals, suspicious)


def _besides(belief: Belief) -> Belief:
    """The belief once sizes are read: what no caliper finds of a gap only ever takes of it."""
    mean = belief.mean.copy()
    mean[len(mean) - len(TAKEN_MM) :] += TAKEN_MM
    return replace(belief, mean=mean)


def _shares(states: Sequence[_State]) -> Array:
    """How much each of them is believed."""
    logs = np.array([s.log_likelihood for s in states])
    share = np.exp(logs - logs.max())
    return np.asarray(share / share.sum())


def _kinds(beliefs: Sequence[Belief], share: Array) -> list[tuple[float, Belief]]:
    """The laws that make up nearly all of a mixture, and one for all the others; none where one does."""
    if share.max() > ALONE:
        return []
    order = np.argsort(-share)
    few = min(int(np.searchsorted(np.cumsum(share[order]), NEARLY_ALL)) + 1, MOST_KINDS)
    out = [(float(share[k]), beliefs[k]) for k in order[:few]]
    if len(rest := order[few:]):
        left = float(share[rest].sum())
        out.append((left, _mixed([beliefs[k] for k in rest], share[rest] / left)))
    return out


def _borne(verdicts: Sequence[Tried]) -> list[tuple[float, bool]]:
    """What pieces were loaded to, and whether they broke. What did not go in, or slipped off, was not loaded."""
    tried = [(v.load, v.verdict) for v in verdicts if isinstance(v, Verdict)]
    tried += [pair for v in verdicts if isinstance(v, Stepped) for pair in zip(v.loads, v.verdicts, strict=True)]
    return [(round(load, 4), said == "broke") for load, said in tried if load is not None and said in ("good", "broke")]


def _read(state: _State, sizes: Sequence[SizeReading], feet: Sequence[SizeReading], read: _Sizes | None) -> _State:
    """All readings with one spread of the prior."""
    prior = state.profile
    if read is not None:
        state = _from_readings(state, read)
    scatter = {
        "common_mm": prior.common_mm * math.sqrt(state.scale),
        "random_mm": prior.random_mm * math.sqrt(state.scale),
        **_from_feet(state, sizes, feet),
    }
    return replace(state, profile=prior.model_copy(update=scatter))


def _divided(state: _State, mating: Mating) -> list[_State]:
    """The state as one for each kind of printer, where what is not known of a joint's gap is wide against what it is judged by."""
    belief = state.belief
    row = np.mean([mating.row(k) for k in range(len(mating.ways))], axis=0)
    _, sd = belief.of(row)
    if sd < WIDE_MM:
        return [state]
    # one standard deviation of the gap's middle, as the terms follow it
    along = belief.covariance @ row / sd
    at, share = KINDS
    left = belief.covariance - float(share @ at**2) * np.outer(along, along)
    return [
        replace(state, belief=Belief(belief.mean + z * along, left), log_likelihood=state.log_likelihood + math.log(w))
        for z, w in zip(at, share, strict=True)
    ]


def _from_feet(state: _State, sizes: Sequence[SizeReading], feet: Sequence[SizeReading]) -> dict[str, float]:
    """What the first layers do, as fields of a profile: how far they stand out and up to what height, and how unsure both are, mm.

    What a size reads more on the bed than above it (or than it is believed to be where it was not read above) is twice what stands out there, over a chamfer twice
    what is left of it (``left_mm``): the first tells how far, both together how high. Summed over both, on a grid; each print's first layers differ a little, and
    what a reading errs follows Student's t.
    """
    prior = state.profile
    if not feet or prior.flare_unsure_mm <= 0:
        return {}
    far, high = prior.flare_mm, prior.flare_height_mm
    out = np.linspace(max(0.0, far - 6 * prior.flare_unsure_mm), far + 6 * prior.flare_unsure_mm, 97)
    up = np.maximum(high + np.linspace(-4, 4, 33) * prior.flare_height_unsure_mm, 0.05)
    logs = -0.5 * ((out[:, None] - far) / prior.flare_unsure_mm) ** 2 - 0.5 * np.linspace(-4, 4, 33)[None, :] ** 2
    # what stands out in one print, about what does in all of them
    once = np.arange(max(0.0, out[0] - 4 * FLARE_DRIFT_MM), out[-1] + 4 * FLARE_DRIFT_MM, FLARE_DRIFT_MM / 4)
    drift = np.exp(-0.5 * ((once[None, :] - out[:, None]) / FLARE_DRIFT_MM) ** 2)
    drift /= drift.sum(axis=1, keepdims=True)
    for print_id in sorted({r.print_id for r in feet}):
        said = np.zeros((len(once), len(up)))
        for leg in sorted({r.chamfer_mm for r in feet if r.print_id == print_id}):
            read, variance = _stands_out(
                state, sizes, [r for r in feet if (r.print_id, r.chamfer_mm) == (print_id, leg)]
            )
            off = (read - left_mm(once[:, None], up[None, :], leg)) ** 2 / variance
            said -= (MISREAD_DOF + 1) / 2 * np.log1p(off / MISREAD_DOF)
        top = said.max()
        logs += np.log(drift @ np.exp(said - top) + 1e-300) + top
    share = np.exp(logs - logs.max())
    share /= share.sum()
    by_far, by_high = share.sum(axis=1), share.sum(axis=0)
    flare, height = float(by_far @ out), float(by_high @ up)
    return {
        "flare_mm": flare, "flare_unsure_mm": math.sqrt(float(by_far @ (out - flare) ** 2)),
        "flare_height_mm": height, "flare_height_unsure_mm": math.sqrt(float(by_high @ (up - height) ** 2)),
    }  # fmt: skip


def _stands_out(state: _State, sizes: Sequence[SizeReading], feet: Sequence[SizeReading]) -> tuple[float, float]:
    """How far, mm a side, the feet of one print say that its first layers stand out, all taken together by how sure each is, and the variance of that."""
    seen = []
    for reading in feet:
        hand = reading.resolution_mm**2 / 12 + HAND_MM**2
        above = [r for r in sizes if (r.print_id, r.feature) == (reading.print_id, reading.feature) and r.feature]
        if above:
            true, variance = sum(r.measured_mm for r in above) / len(above), hand / len(above)
        else:
            row = size_row(reading.role, reading.direction, reading.drawn_mm, reading.round_hole)
            off, sd = state.belief.of(row)
            scatter = 4 * (state.profile.common_mm**2 + state.profile.random_mm**2)
            true, variance = reading.drawn_mm + off, sd**2 + scatter
        seen.append(((reading.measured_mm - true) / 2, (hand + variance) / 4))
    weight = sum(1 / v for _, v in seen)
    return sum(s / v for s, v in seen) / weight, 1 / weight


def _both(share: Array, each: Sequence[tuple[float, float]]) -> tuple[float, float]:
    """Mean and standard deviation of a mixture of such."""
    mean = float(share @ [m for m, _ in each])
    return mean, math.sqrt(float(share @ [sd**2 + (m - mean) ** 2 for m, sd in each]))


def _mixed(beliefs: Sequence[Belief], share: Array) -> Belief:
    """Mean and covariance of a mixture of normal laws."""
    mean = sum((w * b.mean for w, b in zip(share, beliefs, strict=True)), np.zeros(len(beliefs[0].mean)))
    covariance = sum(
        (w * (b.covariance + np.outer(b.mean - mean, b.mean - mean)) for w, b in zip(share, beliefs, strict=True)),
        np.zeros_like(beliefs[0].covariance),
    )
    return Belief(mean, covariance)


@dataclass(frozen=True, eq=False)
class _Sizes:
    """What readings of sizes say whatever is believed: for each its feature (0-based), how far it lies from what was drawn and the variance of the hand; for each feature
    its weights of the terms, the variance that its whole layers leave, and how an offset of a whole print moves two of them together."""

    of: NDArray[np.intp]
    off: Array
    hand: Array
    rows: Array
    layers: Array
    common: Array


def _sizes_of(readings: Sequence[SizeReading], layer_mm: float) -> _Sizes:
    # readings that do not say of which feature they are stand each for one
    keys = [(r.print_id, r.feature or str(k)) for k, r in enumerate(readings)]
    heads: dict[tuple[str, str], SizeReading] = {}
    for key, reading in zip(keys, readings, strict=True):
        heads.setdefault(key, reading)
    place = {key: n for n, key in enumerate(sorted(heads))}
    ordered = [heads[key] for key in place]
    sign = np.array([2.0 if r.role == "outside" else -2.0 for r in ordered])
    print_of = np.unique([r.print_id for r in ordered], return_inverse=True)[1]
    return _Sizes(
        of=np.array([place[key] for key in keys]),
        off=np.array([r.measured_mm - r.drawn_mm for r in readings]),
        hand=np.array([r.resolution_mm**2 / 12 + HAND_MM**2 for r in readings]),
        rows=np.array([size_row(r.role, r.direction, r.drawn_mm, r.round_hole) for r in ordered]),
        layers=np.array([_layers_leave(r, layer_mm) for r in ordered]),
        common=np.outer(sign, sign) * (print_of[:, None] == print_of[None, :]),
    )


def _layers_leave(reading: SizeReading, layer_mm: float) -> float:
    """What a size errs because of what stands upright of it comes in whole layers, a variance in mm²."""
    x, y, z = (c * c for c in reading.direction)
    return (z / (x + y + z)) ** 2 * layers_leave_mm2(reading.drawn_mm, layer_mm)


def _from_readings(state: _State, read: _Sizes) -> _State:
    belief, prior = state.belief, state.profile
    of, a, hand = read.of, read.rows, read.hand
    count = len(a)
    printed = prior.common_mm**2 * read.common + 4 * prior.random_mm**2 * np.eye(count)
    off = read.off - (a @ belief.mean)[of]
    terms = a @ belief.covariance @ a.T + np.diag(read.layers)
    weight, scale = _first_weights(off, hand, of, terms + printed), 1.0
    for _ in range(MISREAD_ROUNDS):
        mean, own = _features(off, hand / weight, of)
        inverse = np.linalg.inv(terms + scale * printed + np.diag(own))
        # where each feature's true size lies, given all readings, and what each reading is off it
        true, left = mean - own * (inverse @ mean), own - own**2 * np.diag(inverse)
        erred = (off - true[of]) ** 2 + left[of]
        new = np.minimum(1.0, (MISREAD_DOF + 1) / (MISREAD_DOF + erred / hand))
        plain = np.linalg.inv(terms + printed + np.diag(own))
        scale = (PRIOR_DOF + float(mean @ plain @ mean)) / (PRIOR_DOF + count)
        done = np.abs(new - weight).max() < 1e-3
        weight = new
        if done:
            break
    mean, own = _features(off, hand / weight, of)
    spread = terms + scale * printed + np.diag(own)
    gain = belief.covariance @ a.T @ np.linalg.inv(spread)
    after = belief.covariance - gain @ a @ belief.covariance
    _, determinant = np.linalg.slogdet(spread)
    likelihood = -0.5 * (float(mean @ np.linalg.solve(spread, mean)) + float(determinant))
    return replace(
        state, belief=Belief(belief.mean + gain @ mean, (after + after.T) / 2), scale=scale,
        log_likelihood=state.log_likelihood + likelihood, weights=tuple(float(w) for w in weight),
    )  # fmt: skip


def _features(off: Array, own: Array, of: NDArray[np.intp]) -> tuple[Array, Array]:
    """For each feature the mean of its readings, weighed by their variances, and its variance."""
    weight = np.bincount(of, 1 / own)
    return np.bincount(of, off / own) / weight, 1 / weight


def _first_weights(off: Array, hand: Array, of: NDArray[np.intp], spread: Array) -> Array:
    """Weights to begin with: a reading that lies far from what all others say of it begins as one that says nothing."""
    whole = spread[np.ix_(of, of)] + np.diag(hand)
    inverse = np.linalg.inv(whole)
    alone = (inverse @ off) / np.diag(inverse)
    far = np.abs(alone) * np.sqrt(np.diag(inverse)) > FAR
    return np.where(far, np.minimum(1.0, hand / np.maximum(alone**2, 1e-12)), 1.0)


def _likelihood(spread: Spread, found: Tried, own_mm: float, flare_mm: float) -> Array:
    """How likely the evidence is at each point of a joint's law (r, l); ``own_mm`` is what each rung of a ladder errs by itself."""
    if isinstance(found, Ladder):
        s = math.hypot(own_mm, GO_SHARP_MM)
        gaps = sorted(found.drawn_mm)
        n = len(gaps)
        # the room was reckoned for the gap of the middle rung: the tightest that took the plug, and the widest that did not
        room = spread.room - middle_of(gaps) - GO_GAP_MM
        p = np.ones_like(room)
        if found.went_in > 0:
            p = p * ndtr((room + gaps[n - found.went_in]) / s)
        if found.went_in < n:
            p = p * ndtr(-(room + gaps[n - found.went_in - 1]) / s)
        return np.asarray(p)
    if isinstance(found, Stepped):
        return _likelihood_of_steps(spread, found, own_mm, flare_mm)
    goes_in = spread.room - flare_mm >= found.least_mm
    if found.verdict in ("too tight", "broke"):
        return np.asarray(~goes_in, dtype=float)
    holds = spread.play <= found.most_mm
    return np.asarray(goes_in & (~holds if found.verdict == "loose" else holds), dtype=float)


def _judged(found: Tried, likelihood: Array) -> Array:
    """The same where one in forty is misjudged; of several verdicts each may be by itself."""
    return likelihood if isinstance(found, Stepped) else (1 - MISJUDGED) * likelihood + MISJUDGED / 3


def _likelihood_of_steps(spread: Spread, found: Stepped, own_mm: float, flare_mm: float) -> Array:
    """The same where room and play were reckoned for the middle gap: each piece errs by ``own_mm`` beside what all have in common."""
    out = np.ones_like(spread.room)
    s = math.hypot(own_mm, 1e-3)
    for gap, verdict, load in zip(found.drawn_mm, found.verdicts, found.loads, strict=True):
        if verdict == "broke" and load is not None:
            # it tells of the material
            continue
        shift = gap - found.middle_mm
        goes_in = ndtr((spread.room + shift - flare_mm - found.least_mm) / s)
        holds = ndtr((found.most_mm - spread.play - shift) / s)
        p = {"good": goes_in * holds, "loose": goes_in * (1 - holds)}.get(verdict, 1 - goes_in)
        out = out * ((1 - MISJUDGED) * p + MISJUDGED / 3)
    return np.asarray(out)


def middle_of(gaps: Sequence[float]) -> float:
    return gaps[len(gaps) // 2]


def _from_verdict(state: _State, found: Tried) -> tuple[_State, float]:
    """The belief after a verdict: moments of what the print took of the gap in all directions, and of the flare; and the chance that stood before it."""
    belief, profile, mating = state.belief, state.profile, found.mating
    if mating.chamfers_mm:
        flare, unsure = flare_left_mm(profile, mating.chamfers_mm)
        mating = replace(mating, flare_mm=flare, flare_unsure_mm=unsure)
    law = law_of(profile, mating, belief)
    spread = spread_of(law, sides_of(_sides(found), mating))
    shares = spread.weights()
    each = [
        w * shares * _judged(found, _likelihood(spread, found, profile.random_mm, flare)) for flare, w in spread.flares
    ]
    shown = spread.share(found.least_mm, found.most_mm) if isinstance(found, Verdict) else math.nan
    if float(np.trace(law.known)) < 1e-12:
        return state, shown
    by_flare = np.array([float(p.sum()) for p in each])
    total = float(by_flare.sum())
    p = sum(each, np.zeros_like(shares)).ravel() / total
    points = spread.deviations.reshape(-1, len(law.mean))
    seen = p @ points
    left = (points - seen).T @ ((points - seen) * p[:, None])
    # all terms move with the deviations by their covariance with them
    gain = belief.covariance @ law.rows.T @ np.linalg.pinv(law.covariance)
    covariance = belief.covariance - gain @ (law.covariance - left) @ gain.T
    after = replace(belief, mean=belief.mean + gain @ (seen - law.mean), covariance=(covariance + covariance.T) / 2)
    after_all = replace(
        state, belief=after, profile=_flared(profile, mating, spread, by_flare / total),
        log_likelihood=state.log_likelihood + math.log(total),
    )  # fmt: skip
    return after_all, shown


def _flared(profile: Profile, mating: Mating, spread: Spread, share: Array) -> Profile:
    """The profile with the flare that a verdict speaks for, in proportion to what is left of it at the joint's edges."""
    if len(spread.flares) < 2 or not mating.chamfers_mm:
        return profile
    values, before = np.array([f for f, _ in spread.flares]), np.array([w for _, w in spread.flares])

    def moments(w: Array) -> tuple[float, float]:
        mean = float(w @ values)
        return mean, float(w @ (values - mean) ** 2)

    (old, spread_before), (new, spread_after) = moments(before), moments(share)
    if old < 1e-6 or spread_before < 1e-12:
        return profile
    return profile.model_copy(update={
        "flare_mm": profile.flare_mm * new / old,
        "flare_unsure_mm": profile.flare_unsure_mm * math.sqrt(spread_after / spread_before),
    })  # fmt: skip


def _sides(found: Tried) -> tuple[tuple[Side, ...], ...]:
    if not isinstance(found, Ladder) and found.sides:
        return found.sides
    gap = found.drawn_mm if isinstance(found, Verdict) else middle_of(sorted(found.drawn_mm))
    return even_zones(gap, found.mating)
