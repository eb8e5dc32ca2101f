"""What the board asks of the API beside commands: what a part would bring in, outline files in and out; and nonsense."""

from __future__ import annotations

from typing import Any

import pytest
from serving import Client

from dovejoint.core.steps.sources import BroughtIn
from dovejoint.web import shapes

SQUARE = '<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="30mm" viewBox="0 0 40 30"><rect width="40" height="30"/></svg>'


def sketched(client: Client) -> tuple[dict[str, Any], str]:
    """The feeder with a new, empty sketch on the ground."""
    state = client.do(client.feeder(), "AddStep", kind="sketch", fields={})
    return state, state["created"][0]


def blob_thing(client: Client, state: dict[str, Any], what: str, label: str) -> dict[str, Any]:
    """A face or an edge as the interface reads it off the mesh."""
    import json

    part = client.get(f"/projects/{state['id']}/evaluation")["parts"][0]
    things = json.loads(client.http.get(f"/api/mesh/{part['things']}").data)
    found = next(t for t in things[what] if t["label"].replace("{part}", part["name"]).startswith(label))
    return {"part": part["id"], "kind": what[:-1], "thing": {"name": found["name"], "seen": found["seen"]}}


def test_what_a_part_would_bring_in_is_brought_in_and_follows(client: Client) -> None:
    state, step = sketched(client)
    top = blob_thing(client, state, "faces", "top of Hopper")
    seen = client.post(f"/projects/{state['id']}/look", {"step": step, "pick": top, "what": "edge"})
    for thing in seen:
        BroughtIn.model_validate(thing)
    assert sorted(t["curve"]["kind"] for t in seen) == ["arc"] * 4 + ["line"] * 4
    state = client.do(state, "BringIn", step=step, things=seen)
    before = client.get(f"/projects/{state['id']}/evaluation")["sketches"][step]
    assert (before["freedom"], before["lost"]) == (0, {})
    inside = next(v["id"] for v in state["values"] if v["name"] == "inside")
    state = client.do(state, "SetValue", value=inside, formula="93 mm")
    after = client.get(f"/projects/{state['id']}/evaluation")["sketches"][step]

    def wide(sketch: dict[str, Any]) -> float:
        xs = [p[0] for p in sketch["points"].values()]
        return max(xs) - min(xs)

    assert wide(after) == pytest.approx(wide(before) + 10)
    # the whole is undone in one go each
    state = client.post(f"/projects/{state['id']}/undo", {"seen": state["version"]})
    state = client.post(f"/projects/{state['id']}/undo", {"seen": state["version"]})
    assert next(s for s in state["document"]["recipe"] if s["id"] == step)["fields"]["sketch"]["curves"] == []


def test_what_cannot_be_brought_in_says_why(client: Client) -> None:
    state, step = sketched(client)
    top = blob_thing(client, state, "faces", "top of Hopper")
    look = f"/projects/{state['id']}/look"
    for body, word in (
        ({"step": step, "pick": top, "what": "section"}, "does not cut"),
        ({"step": step, "pick": {**top, "thing": {"name": "nothing"}}, "what": "edge"}, "not there any more"),
        ({"step": step, "pick": {**top, "part": "p99"}, "what": "edge"}, "comes later"),
        ({"step": "s99", "pick": top, "what": "edge"}, "cannot be worked out"),
    ):
        assert word in client.post(look, body, 422)["detail"]
    assert client.post(look, {"step": step, "pick": top, "what": "everything"}, 400)["detail"]


def test_outline_files_in_and_out(client: Client) -> None:
    state, step = sketched(client)
    base = f"/projects/{state['id']}/outline"
    found = client.post(base, {"name": "plate.svg", "text": SQUARE})
    shapes.OutlineOut.model_validate(found)
    assert (found["width_mm"], found["height_mm"], found["closed"]) == (pytest.approx(40), pytest.approx(30), 1)
    assert "no outline to save" in client.post(f"{base}/export", {"step": step, "format": "svg"}, 422)["detail"]
    state = client.do(state, "PlaceOutline", step=step, curves=found["curves"])
    for format, media in (("svg", "image/svg+xml"), ("dxf", "image/vnd.dxf")):
        response = client.http.post(f"/api{base}/export", json={"step": step, "format": format})
        assert (response.status_code, response.mimetype) == (200, media)
        assert f".{format}" in response.headers["Content-Disposition"]
        again = client.post(base, {"name": f"x.{format}", "text": response.data.decode()})
        assert (again["width_mm"], again["closed"]) == (pytest.approx(40), 1)
    for text, word in (("<svg", "not an SVG"), ("", "not an SVG")):
        assert word in client.post(base, {"name": "x.svg", "text": text}, 400)["detail"]
    assert "DXF" in client.post(base, {"name": "x.dxf", "text": "\x00\x01"}, 400)["detail"]
    assert client.post(base, {"name": "x.svg", "text": SQUARE, "scale": -1}, 400)["detail"]
