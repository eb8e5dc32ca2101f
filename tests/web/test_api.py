"""The API: shapes, refusals, who may talk to it, undo, clashes."""

from __future__ import annotations

import io
import json
import zipfile
from typing import Any

import pytest
from serving import Client

from dovejoint.core.formats.stl import read_stl
from dovejoint.web import shapes


def test_answers_have_the_published_shapes(client: Client) -> None:
    state = client.feeder()
    shapes.ProjectState.model_validate(state)
    shapes.Report.model_validate(client.get(f"/projects/{state['id']}/evaluation"))
    shapes.Kinds.model_validate(client.get("/kinds"))
    for row in client.get("/projects"):
        shapes.SummaryOut.model_validate(row)
    refused = client.do(state, "AddValue", 422, name="wall", formula="1 mm")
    shapes.Problem.model_validate(refused)
    assert refused["detail"] == "There is a value called “wall” already."


def test_the_mesh_blob_is_what_the_interface_reads(client: Client) -> None:
    state = client.feeder()
    part = client.get(f"/projects/{state['id']}/evaluation")["parts"][0]
    response = client.http.get(f"/api/mesh/{part['mesh']}")
    assert "immutable" in response.headers["Cache-Control"]
    blob = response.data
    assert blob[:4] == b"DJM1"
    length = int.from_bytes(blob[4:8], "little")
    header = json.loads(blob[8 : 8 + length])
    for offset, _, _ in header["arrays"].values():
        assert offset % 8 == 0
    offset, kind, count = header["arrays"]["triangles"]
    assert (kind, count % 3) == ("uint32", 0)
    assert offset + 4 * count <= len(blob)
    assert sum(n for _, n in header["faceRuns"]) * 3 == count
    assert len(header["smooth"]) == len(header["edgeRuns"])
    things = json.loads(client.http.get(f"/api/mesh/{part['things']}").data)
    assert len(things["faces"]) == len(header["faceRuns"]) and len(things["edges"]) == len(header["edgeRuns"])
    assert {f["label"] for f in things["faces"]} >= {"top of {part}", "lower rim of {part}"}


def test_undo_redo_and_what_comes_after(client: Client) -> None:
    state = client.post("/projects", {"name": "Undo"})
    assert client.post(f"/projects/{state['id']}/undo", {"seen": 0}, 422)["detail"] == "There is nothing to take back."
    state = client.do(state, "AddValue", name="a", formula="1 mm")
    state = client.do(state, "AddValue", name="b", formula="2 mm")
    state = client.post(f"/projects/{state['id']}/undo", {"seen": state["version"]})
    assert [v["name"] for v in state["values"]] == ["a"]
    assert state["redo"] == "add b = 2 mm"
    state = client.post(f"/projects/{state['id']}/redo", {"seen": state["version"]})
    assert [v["name"] for v in state["values"]] == ["a", "b"]
    state = client.post(f"/projects/{state['id']}/undo", {"seen": state["version"]})
    state = client.do(state, "AddValue", name="c", formula="3 mm")
    assert state["redo"] is None
    assert [h["sentence"] for h in client.get(f"/projects/{state['id']}/history")] == ["add a = 1 mm", "add c = 3 mm"]
    for _ in range(2):
        state = client.post(f"/projects/{state['id']}/undo", {"seen": state["version"]})
    assert state["values"] == []
    assert state["undo"] is None


def test_two_windows(client: Client) -> None:
    first = client.feeder()
    wall, inside = (v["id"] for v in first["values"][:2])
    second = client.do(first, "SetValue", value=wall, formula="2 mm")
    # another object: rebased; the same object: refused, with what changed
    third = client.do(first, "SetValue", value=inside, formula="90 mm")
    assert third["version"] == second["version"] + 1
    clash = client.do(first, "SetValue", 409, value=wall, formula="3 mm")
    assert clash["changes"] == ["set wall = 2 mm"]
    assert "changed elsewhere meanwhile: set wall = 2 mm" in clash["detail"]
    assert client.get(f"/projects/{first['id']}")["values"][0]["formula"] == "2 mm"
    assert client.post(f"/projects/{first['id']}/undo", {"seen": first["version"]}, 409)
    assert "not there; reload" in client.do({**first, "version": 99}, "SetUnit", 422, unit="in")["detail"]


def test_preview_and_gauge_record_nothing(client: Client) -> None:
    state = client.feeder()
    command = {"do": "SetValue", "value": state["values"][0]["id"], "formula": "2.6 mm"}
    seen = client.post(f"/projects/{state['id']}/preview", {"command": command})
    low = seen["report"]["parts"][0]["bounding_box_mm"]["low"][0]
    assert low == pytest.approx(-(83 + 5.2) / 2)
    joint = next(s for s in state["document"]["recipe"] if s["kind"] == "plug_in_lip")["id"]
    loose = {"do": "EditStep", "step": joint, "fields": {"fit": "loose"}}
    gauge = client.post(f"/projects/{state['id']}/gauge", {"command": loose})
    assert gauge["joints"][0]["drawn_mm"] == pytest.approx(0.55)
    assert client.get(f"/projects/{state['id']}")["version"] == state["version"]


def test_dragging_is_answered_without_recording(client: Client) -> None:
    state = client.post("/projects", {"name": "Drag"})
    state = client.do(state, "AddStep", kind="sketch", fields={})
    step = state["created"][0]
    state = client.do(state, "DrawRectangle", step=step, first=[0, 0], corner=[20, 10], on="origin")
    moved = client.post(f"/projects/{state['id']}/drag", {"step": step, "id": "p3", "to": [31, 17]})
    shapes.DragOut.model_validate(moved)
    assert moved["points"]["p1"] == pytest.approx([-31, -17], abs=1e-6)
    assert client.post(f"/projects/{state['id']}/drag", {"step": step, "id": "zz", "to": [1, 1]}, 422)["detail"]


def test_export_one_file_and_several(client: Client) -> None:
    state = client.feeder()
    hopper, floor = (p["id"] for p in state["document"]["parts"])
    url = f"/api/projects/{state['id']}/export"
    one = client.http.post(url, json={"parts": [floor], "format": "stl", "pattern": "{part} ../../etc"})
    assert one.status_code == 200
    assert "/" not in one.headers["Content-Disposition"]
    assert read_stl(one.data).shape[0] > 100
    many = client.http.post(url, json={"parts": [hopper, floor], "format": "step"})
    names = zipfile.ZipFile(io.BytesIO(many.data)).namelist()
    assert names == ["Window bird feeder Hopper.step", "Window bird feeder Floor.step"]
    for body, word in (
        ({"format": "obj"}, "no format “obj”"),
        ({"unit": "ft"}, "mm or in"),
        ({"parts": ["p99"]}, "not there any more"),
    ):
        assert word in client.http.post(url, json=body).get_json()["detail"]


def test_project_file_goes_out_and_in(client: Client) -> None:
    state = client.feeder()
    data = client.http.get(f"/api/projects/{state['id']}/file").data
    back = client.http.post("/api/projects/import", data=data).get_json()
    assert back["id"] != state["id"]
    assert back["document"] == state["document"]
    before = len(client.get("/projects"))
    for bad in (b"nonsense", data[: len(data) // 2], data.replace(b'"kind": "shell"', b'"kind": "shelf"')):
        response = client.http.post("/api/projects/import", data=bad)
        assert response.status_code == 400
        assert response.get_json()["detail"].startswith(("The project file is damaged", "This is not"))
    for size, status, words in ((9, 400, "larger than 8 MB"), (33, 413, "larger than 32 MB")):
        large = client.http.post("/api/projects/import", data=b" " * (size * 1024 * 1024))
        assert large.status_code == status
        assert words in large.get_json()["detail"]
    assert len(client.get("/projects")) == before, "nothing half-read is kept"


@pytest.mark.parametrize(
    ("method", "path", "body", "status"),
    [
        ("get", "/nowhere", None, 404),
        ("get", "/projects/zz", None, 404),
        ("post", "/projects", {"name": ""}, 422),
        ("post", "/projects", {"nme": "x"}, 400),
        ("post", "/projects", {"name": "x", "sample": "boat"}, 422),
        ("post", "/projects/zz/commands", {"seen": 0, "command": {"do": "SetUnit", "unit": "in"}}, 404),
        ("get", "/mesh/../../secret", None, 404),
        ("get", "/mesh/zz", None, 422),
        ("delete", "/projects", None, 405),
    ],
)
def test_bad_requests_are_problems_with_a_sentence(
    client: Client, method: str, path: str, body: Any, status: int
) -> None:
    response = client.http.open(f"/api{path}", method=method.upper(), json=body)
    assert response.status_code == status
    assert response.mimetype == "application/problem+json"
    assert response.get_json()["detail"].endswith((".", "?", "”"))


def test_bodies_that_are_no_json(client: Client) -> None:
    for data in (b"", b"{", b"[1]", b'"x"', b"\xff"):
        response = client.http.post("/api/projects", data=data, content_type="application/json")
        assert response.get_json()["detail"] == "The request is not JSON."


def test_only_this_machine_may_ask(client: Client, app: Any) -> None:
    assert client.http.get("/api/projects", headers={"Host": "evil.example"}).status_code == 403
    assert (
        client.http.post("/api/projects", json={"name": "x"}, headers={"Origin": "http://evil.example"}).status_code
        == 403
    )
    response = client.http.get("/api/projects", headers={"Host": "127.0.0.1:8460", "Origin": "http://127.0.0.1:8460"})
    assert response.status_code == 200
    assert "script-src 'self'" in response.headers["Content-Security-Policy"]
    assert response.headers["X-Content-Type-Options"] == "nosniff"


def test_elsewhere_needs_the_token(tmp_path: Any) -> None:
    from dovejoint.web import Config, create_app

    app = create_app(Config(tmp_path, tmp_path, token="secret"))
    try:
        http = app.test_client()
        assert http.get("/api/projects").status_code == 401
        assert http.get("/api/projects", headers={"X-Access-Token": "wrong"}).status_code == 401
        assert http.get("/api/projects", headers={"X-Access-Token": "secret"}).status_code == 200
        assert http.get("/?token=wrong").headers.get("Set-Cookie") is None
        http.get("/?token=secret")
        assert http.get("/api/projects").status_code == 200, "the cookie carries it from then on"
    finally:
        app.extensions["dovejoint"]["engine"].close()


def test_pages(client: Client) -> None:
    page = client.http.get("/p/abc123")
    assert page.status_code == 200
    assert page.headers["Cache-Control"] == "no-cache"
    name = page.text.split('src="/assets/')[1].split('"')[0]
    script = client.http.get(f"/assets/{name}", headers={"Accept-Encoding": "gzip"})
    assert script.headers["Content-Encoding"] == "gzip"
    assert "immutable" in script.headers["Cache-Control"]
    for path in ("/assets/../../../pyproject.toml", "/missing.js", "/..%2f..%2fpyproject.toml"):
        assert client.http.get(path).status_code == 404


def test_numbers_that_are_none(client: Client) -> None:
    state = client.post("/projects", {"name": "NaN"})
    state = client.do(state, "AddStep", kind="sketch", fields={})
    text = json.dumps(
        {
            "seen": state["version"],
            "command": {"do": "DrawCircle", "step": state["created"][0], "centre": [0, 0], "radius": float("nan")},
        }
    )
    response = client.http.post(f"/api/projects/{state['id']}/commands", data=text, content_type="application/json")
    assert response.status_code in (400, 422)


def test_removing_a_project(client: Client) -> None:
    state = client.post("/projects", {"name": "Gone"})
    assert client.http.delete(f"/api/projects/{state['id']}").status_code == 200
    assert client.http.get(f"/api/projects/{state['id']}").status_code == 404
    assert client.http.delete(f"/api/projects/{state['id']}").status_code == 404
    assert all(p["id"] != state["id"] for p in client.get("/projects"))


def test_pictures_and_copies_of_projects(client: Client) -> None:
    state = client.post("/projects", {"sample": "feeder"})
    client.get(f"/projects/{state['id']}/evaluation")

    def asked(path: str, **more: Any) -> Any:
        return client.http.get(f"/api{path}", **more)

    picture = asked(f"/projects/{state['id']}/picture")
    assert picture.status_code == 200 and picture.data.startswith(b"\x89PNG")
    # asked again it is not sent again
    again = asked(f"/projects/{state['id']}/picture", headers={"If-None-Match": picture.headers["ETag"]})
    assert again.status_code == 304
    assert asked("/samples/mast/picture").data.startswith(b"\x89PNG")
    assert asked("/samples/cake/picture").status_code == 422
    empty = client.post("/projects", {"name": "Nothing"})
    assert "open it once" in asked(f"/projects/{empty['id']}/picture").get_json()["detail"]
    copy = client.post("/projects", {"copy_of": state["id"]})
    assert copy["document"]["name"] == f"{state['document']['name']} copy"
    assert copy["id"] != state["id"] and copy["document"]["recipe"] == state["document"]["recipe"]
    client.post("/projects", {"copy_of": "nowhere"}, 404)


def test_written_figures_and_what_a_step_begins_with(client: Client) -> None:
    state = client.post("/projects", {"sample": "feeder"})
    id = state["id"]
    assert client.post(f"/projects/{id}/figures", {"formulas": ["wall*2", "12", "1 in"]})["figures"] == [3.4, 12, 25.4]
    assert "nowhere" in client.post(f"/projects/{id}/figures", {"formulas": ["nowhere"]}, 422)["detail"]
    # an outline on a face adds to its part, and cutting goes into it
    part = state["document"]["parts"][0]["id"]
    face = {"rule": "flat", "part": part, "face": {"name": "s5/end"}}
    made = client.do(state, "AddStep", kind="sketch", fields={"plane": face})
    fields = {"profile": {"rule": "regions", "step": made["created"][0]}, "operation": "new", "direction": "up"}
    begun = client.post(f"/projects/{id}/begin", {"kind": "extrude", "fields": fields})["fields"]
    assert begun == {"operation": "add", "part": part}
    cut = {"kind": "extrude", "fields": {**fields, "operation": "cut"}, "answered": "operation"}
    assert client.post(f"/projects/{id}/begin", cut)["fields"] == {"direction": "down"}
    # another outline for what is cut leaves it a cut
    assert client.post(f"/projects/{id}/begin", {**cut, "answered": "profile"})["fields"] == {"part": part}
    on_ground = {**fields, "profile": {"rule": "regions", "step": state["document"]["recipe"][0]["id"]}}
    assert client.post(f"/projects/{id}/begin", {"kind": "extrude", "fields": on_ground})["fields"] == {}


def test_parts_of_another_project_and_what_comes_with_them(client: Client) -> None:
    jar = client.post("/projects", {"name": "", "sample": "jar"})
    mine = client.post("/projects", {"name": "Mine"})
    asked = client.post("/parts", {"of": jar["id"]})
    assert [(p["name"], p["comes"]) for p in asked["parts"]] == [("Jar", False), ("Cap", False)] and asked["steps"] == 0
    cap = asked["parts"][1]["id"]
    found = client.post("/parts", {"of": jar["id"], "parts": [cap]})
    assert all(p["comes"] for p in found["parts"]) and (found["steps"], found["values"]) == (9, 5)
    for of, words in (("nowhere", "no such project"), ("sample:none", "no such sample")):
        response = client.http.post("/api/parts", json={"of": of})
        assert response.status_code in (404, 422) and words in response.get_json()["detail"]
    url = f"/api/projects/{mine['id']}/bring"
    for parts, words in (([], "Choose the parts"), (["p99"], "not there any more")):
        response = client.http.post(url, json={"seen": mine["version"], "of": jar["id"], "parts": parts})
        assert response.status_code in (404, 422) and words in response.get_json()["detail"]
    # a project may bring in parts of itself: they are there twice then
    for of in ("sample:jar", jar["id"], mine["id"]):
        state = client.http.get(f"/api/projects/{mine['id']}").get_json()
        part = client.post("/parts", {"of": of})["parts"][0]["id"]
        answer = client.http.post(url, json={"seen": state["version"], "of": of, "parts": [part]})
        assert answer.status_code == 200, answer.text
    names = [p["name"] for p in client.http.get(f"/api/projects/{mine['id']}").get_json()["document"]["parts"]]
    assert names == ["Jar", "Cap", "Jar 2", "Cap 2", "Jar 3", "Cap 3"]
