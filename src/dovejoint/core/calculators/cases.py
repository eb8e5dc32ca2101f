"""Single cases of the calculators: ``{"topic": …, "inputs": {…}}`` in, ``{"outputs": {…}}`` out.

A topic is matched by what it means: words that must stand in it, and inputs that must be there. Which material or size it speaks of does not matter: the
figures come from the inputs. Units: mm, N, MPa; angles in degrees where a name ends in ``_deg``, shares in parts per million where it says ``ppm``.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..errors import CommandError

__all__ = ["LOCKED", "Topic", "answer", "register_topic", "topics"]

Inputs = Mapping[str, Any]
LOCKED = "locked (mu*tan>=1): not separable by pulling, hook shears"


@dataclass(frozen=True)
class Topic:
    """``words`` is a pattern that a topic's text must meet, ``needs`` the inputs that must be there; ``work`` the calculation."""

    name: str
    words: str
    needs: tuple[str, ...]
    work: Callable[[Inputs, str], dict[str, Any]]


_TOPICS: list[Topic] = []


def register_topic(name: str, words: str, *needs: str) -> Callable[[Callable[[Inputs, str], dict[str, Any]]], Callable[[Inputs, str], dict[str, Any]]]:  # fmt: skip
    """Make a calculation known under a pattern of words."""

    def known(work: Callable[[Inputs, str], dict[str, Any]]) -> Callable[[Inputs, str], dict[str, Any]]:
        _TOPICS.append(Topic(name, words, needs, work))
        return work

    return known


def topics() -> list[Topic]:
    return list(_TOPICS)


def answer(case: Any) -> dict[str, Any]:
    """The outputs of a case. Raises CommandError with a sentence when it cannot be answered."""
    if not isinstance(case, dict) or not isinstance(case.get("topic"), str) or not isinstance(case.get("inputs", {}), dict):  # fmt: skip
        raise CommandError("A case is an object with a topic, a text, and inputs, an object.")
    text, inputs = case["topic"].lower(), case.get("inputs", {})
    meant = [t for t in _TOPICS if re.search(t.words, text)]
    if not meant:
        raise CommandError(
            f"There is no calculation for “{case['topic'][:80]}”; there are: {'; '.join(t.name for t in _TOPICS)}."
        )
    able = [t for t in meant if all(k in inputs for k in t.needs)]
    if not able:
        missing = " or ".join(", ".join(k for k in t.needs if k not in inputs) for t in meant)
        raise CommandError(f"For {meant[0].name} these inputs are missing: {missing}.")
    # the one that uses most of what was given
    topic = max(able, key=lambda t: len(t.needs))
    try:
        with np.errstate(all="ignore"):
            outputs = topic.work(inputs, text)
        if not all(math.isfinite(f) for f in _figures(outputs)):
            raise ZeroDivisionError
        return {"outputs": outputs}
    except ZeroDivisionError:
        raise CommandError(f"With these inputs {topic.name} divides by nothing.") from None
    except (TypeError, ValueError, KeyError, AttributeError, OverflowError) as error:
        raise CommandError(f"With these inputs {topic.name} cannot be worked out: {_plain(error)}.") from None


def _figures(outputs: Any) -> Iterator[float]:
    if isinstance(outputs, dict | list):
        for value in outputs.values() if isinstance(outputs, dict) else outputs:
            yield from _figures(value)
    elif isinstance(outputs, float):
        yield outputs


def _plain(error: Exception) -> str:
    if isinstance(error, KeyError):
        return f"{error.args[0]} is missing"
    return "a figure is out of its range" if isinstance(error, (ValueError, OverflowError)) else "a figure is no number"


def degrees(angle_rad: float) -> float:
    return angle_rad * 180 / math.pi
