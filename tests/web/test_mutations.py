"""Project files and commands changed at random where they have structure: never a fault of the server, and what is kept can be opened.

``DOVE_MUTATIONS=10000 ./dove test tests/web/test_mutations.py`` is the long run; the seed of a failure is in its message.
"""

from __future__ import annotations

import copy
import json
import os
import random
from collections.abc import Iterator
from typing import Any

import pytest
from serving import Client

from dovejoint.core.document import dump
from dovejoint.sample import make_feeder, make_outlines

MANY = int(os.environ.get("DOVE_MUTATIONS", "160"))
#: each so-manieth of the files that are kept is also built
BUILT = 1 if MANY > 240 else 20

#: figures, texts and shapes that are seldom met
ODD: list[Any] = [
    None, True, False, 0, -1, 1, 2**63, -(2**70), 1e308, -0.0, 1e-320, "", " ", "0", "-1 mm", "1e9 mm", "9" * 300, "1 / 0", "wall", "wall + wall * wall",
    "inside +", "((((", "3 mm + 4", "90 deg", "NaN", "inf", "🙂", "s1", "s3", "p2", "s999", "v1", "s3/end", "s3/side(l1)", "s7/rim(s5/start)", "²", "\u0000",
    "a" * 5000, [], {}, [[]], [None], {"rule": "regions"}, {"rule": "axis_line", "step": "s1", "line": "right"}, [0, 0], [1e9, 1e9], [[0, 0], [0, 0]],
]  # fmt: skip


def places(data: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    """The paths of everything within plain data."""
    if path:
        yield path
    items = data.items() if isinstance(data, dict) else enumerate(data) if isinstance(data, list) else ()
    for key, value in items:
        yield from places(value, (*path, key))


def mutated(data: Any, rng: random.Random) -> Any:
    """A copy with one to three things put in, left out, doubled, or swapped with another of the same file."""
    data = json.loads(json.dumps(data))
    for _ in range(rng.choice((1, 1, 1, 2, 3))):
        found = list(places(data))
        if not found:
            return data
        *above, key = rng.choice(found)
        owner = data
        for step in above:
            owner = owner[step]
        what = rng.randrange(5)
        if what == 0:
            del owner[key]
        elif what == 1 and isinstance(owner, list):
            owner.insert(rng.randrange(len(owner) + 1), owner[key])
        elif what == 2:
            other = data
            for step in rng.choice(found):
                other = other[step] if isinstance(other, dict) and step in other or isinstance(other, list) else other
            owner[key] = json.loads(json.dumps(other))
        elif what == 3 and isinstance(owner, dict):
            owner[rng.choice(("id", "kind", "fields", "x", "of", "name", "more"))] = copy.deepcopy(rng.choice(ODD))
        else:
            owner[key] = copy.deepcopy(rng.choice(ODD))
    return data


def built(client: Client, id: str, seed: int) -> None:
    """What is kept is made: each step is done or says why not, and each part that there is is sound."""
    response = client.http.get(f"/api/projects/{id}/evaluation")
    assert response.status_code == 200, (seed, response.text[:400])
    report = response.get_json()
    for step in report["steps"]:
        assert step["state"] in ("ok", "off") or step["message"], (seed, step)
        assert "mistake of ours" not in step["message"], (seed, step)
    for part in report["parts"]:
        assert part["valid"] and part["closed"] and part["volume_mm3"] > 0, (seed, part["name"])


@pytest.mark.timeout(7200)
@pytest.mark.parametrize("sample", [make_feeder, make_outlines])
def test_a_changed_file_is_refused_or_can_be_opened(client: Client, sample: Any) -> None:
    good = json.loads(dump(sample()))
    kept = 0
    for seed in range(MANY):
        data = mutated(good, random.Random(seed))
        response = client.http.post("/api/projects/import", data=json.dumps(data))
        assert response.status_code in (200, 400, 413, 422), (seed, response.status_code, response.text[:400])
        if response.status_code != 200:
            assert response.get_json()["detail"], seed
            continue
        kept += 1
        id = response.get_json()["id"]
        assert client.http.get(f"/api/projects/{id}").status_code == 200, seed
        assert client.http.get(f"/api/projects/{id}/file").status_code == 200, seed
        if kept % BUILT == 0:
            built(client, id, seed)
        client.delete(f"/projects/{id}")
    # most single changes leave something that means something else; what is refused is refused for a reason
    assert 0.02 * MANY < kept < 0.98 * MANY


@pytest.mark.timeout(7200)
def test_a_changed_command_is_refused_or_done(client: Client) -> None:
    id = client.http.post("/api/projects", json={"name": "Changed", "sample": "feeder"}).get_json()["id"]
    state = client.http.get(f"/api/projects/{id}").get_json()
    step = state["document"]["recipe"][0]["id"]
    rim = state["document"]["recipe"][-1]["fields"]["host"]
    part = state["document"]["parts"][0]["id"]
    commands = [
        {"do": "AddValue", "name": "gap", "formula": "wall / 2"},
        {"do": "SetValue", "value": state["document"]["values"][0]["id"], "formula": "2 mm"},
        {"do": "AddStep", "kind": "sketch", "fields": {"plane": {"rule": "base", "plane": "front"}, "right": "3 mm"}, "name": "odd"},
        {"do": "DrawRectangle", "step": step, "first": [0, 0], "corner": [4, 5], "width": "8 mm", "height": "9 mm"},
        {"do": "DrawCircle", "step": step, "centre": [1, 2], "radius": 3, "diameter": "6 mm"},
        {"do": "AddStep", "kind": "extrude", "fields": {"profile": {"rule": "regions", "step": step}, "operation": "cut", "part": part, "distance": "3 mm"}},
        {"do": "AddStep", "kind": "revolve", "new_part": {"name": "Turned"}, "fields": {"profile": {"rule": "regions", "step": step}, "axis": {"rule": "axis_base", "axis": "up"}}},
        {"do": "AddStep", "kind": "fillet", "fields": {"edges": {"rule": "edges_along", "part": part, "direction": "up"}, "radius": "1 mm", "more": [{"edges": {"rule": "edges_along", "part": part, "direction": "across"}, "radius": "2 mm"}]}},
        {"do": "AddStep", "kind": "shaft_in_bore", "new_part": {"name": "Pin"}, "fields": {"halves": "none", "axis": {"rule": "axis_base", "axis": "up"}, "host": part, "diameter": "6 mm", "fit": "iso", "zones": "H8/f7"}},
        {"do": "AddStep", "kind": "plug_in_lip", "new_part": {"name": "Lid"}, "fields": {"host": rim}},
        {"do": "EditStep", "step": state["document"]["recipe"][2]["id"], "fields": {"radius": "4 mm"}},
        {"do": "DeleteSteps", "steps": [step]},
    ]  # fmt: skip
    done = 0
    for seed in range(MANY):
        rng = random.Random(seed)
        command = mutated(rng.choice(commands), rng)
        version = client.http.get(f"/api/projects/{id}").get_json()["version"]
        response = client.http.post(f"/api/projects/{id}/commands", json={"seen": version, "command": command})
        assert response.status_code in (200, 400, 409, 413, 422), (seed, response.status_code, response.text[:400])
        done += response.status_code == 200
        if response.status_code == 200 and rng.random() < 0.5:
            seen = response.get_json()["version"]
            assert client.http.post(f"/api/projects/{id}/undo", json={"seen": seen}).status_code == 200, seed
    assert client.http.get(f"/api/projects/{id}").status_code == 200
    assert 0.05 * MANY < done < 0.95 * MANY, "some are done, some refused"
