"""Random changes of the samples' values, and whether picks still mean what they meant: judged by where faces and edges lie, by nothing that knows names.

``python tests/picking.py 300 7 60 anchor roof`` changes values of those samples 300 times each from seed 7, for 60 seconds at most (without names: of all); the tests do a few.
"""

from __future__ import annotations

import random
import sys
import time
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from building import Bench, of_sample

from dovejoint.core.document import Step
from dovejoint.core.document.commands import known_values
from dovejoint.core.errors import DoveError
from dovejoint.core.quantities import NUMBER
from dovejoint.core.recipe import evaluate
from dovejoint.core.recipe.evaluate import context_at
from dovejoint.core.recipe.picks import rule_of
from dovejoint.sample import SAMPLES


@dataclass(frozen=True)
class Lying:
    """How a face or an edge lies: the corners of its box (mm), what kind it is, and which way it looks or runs."""

    box: tuple[float, ...]
    kind: str
    way: tuple[float, ...]

    def away(self, other: Lying) -> float:
        return float(np.abs(np.subtract(self.box, other.box)).max())

    def alike(self, other: Lying) -> bool:
        """Whether one may have become the other."""
        return self.kind == other.kind and (self.kind != "plane" or float(np.dot(self.way, other.way)) > 0.7)


#: what a pick stands for, and what else of its sort there is in the same part
Meant = tuple[list[Lying], list[Lying]]


def picks_in(data: Any, path: str = "") -> Iterator[tuple[str, dict[str, Any]]]:
    """All picks of a step's fields, with where they stand."""
    if isinstance(data, dict):
        if "rule" in data:
            yield path, data
            return
        for key, value in data.items():
            yield from picks_in(value, f"{path}.{key}")
    elif isinstance(data, list):
        for k, value in enumerate(data):
            yield from picks_in(value, f"{path}.{k}")


def meant(bench: Bench) -> dict[tuple[str, str], Meant]:
    """What each pick on faces and edges of parts stands for, just before its step."""
    out: dict[tuple[str, str], Meant] = {}
    project = bench.project
    for at, step in enumerate(project.recipe):
        picks = list(picks_in({k: v for k, v in step.fields.items() if k not in ("sketch", "sources")}))
        if not picks:
            continue
        shown = project.model_copy(update={"recipe": project.recipe[:at]})
        evaluation = evaluate(shown, bench.cache)
        context = context_at(shown, evaluation, Step(id="s0", kind="", fields={}))
        for path, pick in picks:
            if pick["rule"] == "work":
                # it speaks of a step, whose faces may come and go
                continue
            try:
                rule = rule_of(pick)
                things = rule.lights(context, rule.model.model_validate(pick))
            except (KeyError, DoveError):
                continue
            mine = {(t.part, t.type, t.index) for t in things if t.type in ("face", "edge") and t.part}
            if mine:
                sorts = {(part, type) for part, type, _ in mine}
                all_of = [(part, type, k) for part, type in sorts for k in range(len(_of(evaluation, part, type)))]
                picked = [_lying(evaluation, *one) for one in sorted(mine)]
                out[step.id, path] = picked, [_lying(evaluation, *one) for one in all_of if one not in mine]
    return out


def _of(evaluation: Any, part: str, type: str) -> Any:
    state = evaluation.parts[part]
    return state.faces if type == "face" else state.edges


def _lying(evaluation: Any, part: str, type: str, index: int) -> Lying:
    state = evaluation.parts[part]
    if type == "face":
        info = state.faces[index]
        corners = state.mesh.corners_of(index)
        return Lying((*corners.min(axis=0).tolist(), *corners.max(axis=0).tolist()), info.kind, info.normal)
    edge = state.edges[index]
    half = np.abs(edge.direction) * edge.length_mm / 2 if edge.kind == "line" else np.full(3, edge.radius_mm or 0.0)
    return Lying((*(np.array(edge.at) - half), *(np.array(edge.at) + half)), edge.kind, edge.direction)


def wrong(before: Meant, now: Meant) -> str | None:
    """Whether a pick landed elsewhere: on something of another sort, or away from what it meant while that, as it seems, still lies where it was."""
    was, (picked, others) = before[0], now
    for one in picked:
        near = [old for old in was if old.alike(one)]
        if not near:
            return f"lands on a {one.kind} that looks {tuple(round(w, 2) for w in one.way)}, of which it meant none"
        moved = min(old.away(one) for old in near)
        old = min(near, key=lambda o: o.away(one))
        if len(picked) == len(was) and moved > 0.5:
            stayed = [o for o in others if o.alike(old) and o.away(old) < 0.2 * moved]
            if stayed:
                return f"moved by {moved:.2f} mm while another lies {stayed[0].away(old):.3f} mm from where it was"
    return None


@dataclass
class Found:
    """``sound``: models that stood after a change; ``said``: those of which a step said why it does not."""

    tried: int = 0
    sound: int = 0
    picks: int = 0
    said: int = 0
    wrong: list[str] = field(default_factory=list)


def changed(sample: str, times: int, seed: int, limit_s: float = 1e9) -> Found:
    """A sample's values changed at random, one at a time: by up to a tenth, counts by one."""
    bench, dice, found = of_sample(sample), random.Random(f"{sample} {seed}"), Found()
    values = [(v.id, v.name, v.formula) for v in bench.project.values]
    if not values:
        return found
    known = known_values(bench.project)
    before, start, began = meant(bench), bench.project, time.monotonic()
    while found.tried < times and time.monotonic() - began < limit_s:
        _, name, formula = dice.choice(values)
        counts = (
            known[name].dimension == NUMBER and known[name].value == round(known[name].value) and known[name].value > 1
        )
        new = f"({formula}) + {dice.choice([-1, 1])}" if counts else f"({formula}) * {dice.uniform(0.9, 1.1):.4f}"
        bench.project = start
        bench.set(name, new)
        found.tried += 1
        bad = [r for r in bench.evaluate().steps if r.state not in ("ok", "off")]
        found.sound += not bad
        found.said += bool(bad)
        if any(not r.message for r in bad):
            found.wrong.append(f"{sample}: {name} = {new}: a step fails without a word")
        now = meant(bench)
        for key in before.keys() & now.keys():
            found.picks += 1
            told = wrong(before[key], now[key])
            if told:
                found.wrong.append(f"{sample}: {name} = {new}: step {key[0]}{key[1]} {told}")
    bench.project = start
    return found


def main() -> None:
    times, seed = int(sys.argv[1]), int(sys.argv[2])
    limit = float(sys.argv[3])
    for sample in sys.argv[4:] or list(SAMPLES):
        began = time.monotonic()
        found = changed(sample, times, seed, limit)
        print(
            f"{sample:14} {found.tried:4} changes, {found.sound:4} sound, {found.said:3} said, {found.picks:6} picks, {len(found.wrong)} wrong, {time.monotonic() - began:.0f} s",
            flush=True,
        )
        for line in found.wrong[:12]:
            print("  " + line, flush=True)


if __name__ == "__main__":
    main()
