"""What comes from outside, is damaged, or comes all at once: each a plain sentence, the rest stays usable, nothing is written over."""

from __future__ import annotations

import json
import os
import sqlite3
import subprocess
import sys
import threading
import time
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import psutil
import pytest
from serving import Client

from dovejoint.core.document import dump, load
from dovejoint.core.errors import FileError
from dovejoint.core.formats import read_outline
from dovejoint.sample import make_feeder
from dovejoint.store import Database, FolderLock, ProjectStore, ResultStore
from dovejoint.web import Config, create_app
from dovejoint.web.events import MOST_FROM_ONE, EventHub, TooMany
from dovejoint.web.files import disposition

HEAD = '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="10mm" height="10mm" viewBox="0 0 10 10">'


# ---- names ---------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("name", ["Łódź", "鳥の餌箱", "emoji 🪺", "naïve café", 'quote" and \\ and ;', "plain"])
def test_files_have_their_names_in_any_script(client: Client, name: str) -> None:
    state = client.post("/projects", {"name": name})
    response = client.http.get(f"/api/projects/{state['id']}/file")
    assert response.status_code == 200
    header = response.headers["Content-Disposition"]
    header.encode("latin-1")
    from urllib.parse import unquote

    full = unquote(header.rpartition("UTF-8''")[2])
    assert full.endswith(".dove.json")
    # what a file system cannot take is replaced, letters of any script are not
    assert all(sign in full for sign in name if sign.isalpha())


def test_the_plain_name_is_one_that_old_programs_read() -> None:
    """RFC 6266: a quoted ASCII name first, then the full one in RFC 5987's form."""
    assert disposition("Łódź.stl") == "attachment; filename=\"odz.stl\"; filename*=UTF-8''%C5%81%C3%B3d%C5%BA.stl"
    assert 'filename="dove-joint.stl"' in disposition("鳥.stl")


# ---- streams and floods --------------------------------------------------------------------------------------------


def test_there_are_only_so_many_streams_and_the_rest_ask() -> None:
    hub = EventHub()
    streams = [hub.stream("", 0, lambda: False, "me") for _ in range(MOST_FROM_ONE)]
    assert [next(s) for s in streams] == [": open\n\n"] * MOST_FROM_ONE
    with pytest.raises(TooMany):
        hub.stream("", 0, lambda: False, "me")
    next(hub.stream("", 0, lambda: False, "another browser"))
    newest, nothing = hub.since("a", 0)
    assert nothing == []
    hub.send("a", "document", {"version": 2})
    hub.send("b", "document", {"version": 9})
    newest, found = hub.since("a", max(1, newest)) if newest else hub.since("", 0)
    hub.send("a", "evaluation", {"version": 2})
    _, found = hub.since("a", newest)
    assert [(e, json.loads(d)["version"]) for e, d in found] == [("evaluation", 2)]
    streams[0].close()
    next(hub.stream("", 0, lambda: False, "me"))


@pytest.fixture
def served(tmp_path: Path) -> Iterator[str]:
    """A real server in a process of its own."""
    words = [sys.executable, "-m", "dovejoint.cli", "serve", "--port", "0", "--data", str(tmp_path / "data")]
    server = subprocess.Popen(words, stdout=subprocess.PIPE, text=True)
    assert server.stdout is not None
    try:
        yield server.stdout.readline().split()[-1].rstrip("/")
    finally:
        server.terminate()
        server.wait()


def test_a_flood_of_streams_does_not_stop_service(served: str) -> None:
    """Forty windows listen, and as many connections say nothing at all; a request is still answered at once."""
    import socket

    open_streams, refused, idle = [], 0, []
    host, port = served.removeprefix("http://").split(":")
    for _ in range(40):
        try:
            open_streams.append(urllib.request.urlopen(f"{served}/api/events", timeout=10))
        except urllib.error.HTTPError as error:
            assert error.code == 503
            refused += 1
        idle.append(socket.create_connection((host, int(port))))
    assert refused == 40 - MOST_FROM_ONE
    begun = time.monotonic()
    assert json.load(urllib.request.urlopen(f"{served}/api/projects", timeout=10)) == []
    assert time.monotonic() - begun < 5
    for stream in [*open_streams, *idle]:
        stream.close()


def test_a_body_that_is_too_large_is_refused_before_it_is_read(served: str) -> None:
    import socket

    host, port = served.removeprefix("http://").split(":")
    with socket.create_connection((host, int(port)), timeout=10) as line:
        line.sendall(
            f"POST /api/projects/import HTTP/1.1\r\nHost: {host}:{port}\r\nContent-Length: 209715200\r\n\r\n".encode()
        )
        assert b"413" in line.recv(200)


# ---- requests ------------------------------------------------------------------------------------------------------


def test_odd_requests_are_refused_with_a_sentence(client: Client) -> None:
    state = client.feeder()
    id = state["id"]
    deep = "[" * 3000 + "]" * 3000
    for method, path, body in (
        ("POST", f"/projects/{id}/commands", f'{{"seen": 0, "command": {deep}}}'),
        ("POST", f"/projects/{id}/commands", '{"seen": 99999999999999999999, "command": {"do": "SetUnit", "unit": "in"}}'),
        ("POST", "/readings/99999999999999999999", '{"excluded": true}'),
        ("DELETE", "/verdicts/99999999999999999999", ""),
        ("GET", f"/projects/{id}/evaluation?limits={'[' * 900}", ""),
        ("GET", f"/projects/{id}/layer?part=p6&layer={'9' * 400}", ""),
        ("GET", "/events/since?after=²", ""),
        ("POST", "/projects/import", '{"application": "dove-joint", "format": ' + "9" * 5000 + "}"),
        ("POST", f"/projects/{id}/commands", json.dumps({"seen": state["version"], "command": {"do": "PlaceOutline", "step": state["document"]["recipe"][0]["id"], "curves": [{"kind": "arc", "places": [[0, 0]], "radius": 0}]}})),
        ("POST", f"/projects/{id}/lights", '{"pick": {"rule": "nonsense"}}'),
        ("POST", f"/projects/{id}/say", '{"kind": "nonsense", "fields": {}}'),
        ("POST", f"/projects/{id}/say", '{"kind": "fillet", "fields": {"edges": 7, "more": [1]}}'),
    ):  # fmt: skip
        response = client.http.open(f"/api{path}", method=method, data=body, content_type="application/json")
        assert response.status_code < 500, (path[:60], response.status_code, response.text[:200])
    assert client.get(f"/projects/{id}")["version"] == state["version"]


def test_what_cannot_be_opened_is_not_kept(client: Client) -> None:
    before = len(client.get("/projects"))
    good = json.loads(dump(make_feeder()))
    for change in (
        lambda d: d["values"][0].update(formula="9" * 380 + " / 1 in"),
        lambda d: d["values"].append({**d["values"][0], "id": "v900"}),
        lambda d: d["values"][0].update(name="mm"),
        lambda d: d["values"][0].update(name="a b"),
        lambda d: d.update(profile="nobody"),
        lambda d: d["recipe"][1].update(tolerances={"nowhere": "±0.1"}),
        lambda d: d["recipe"][2]["fields"]["edges"].pop("direction") and d["recipe"][2]["fields"]["edges"].update(part="p999"),
        lambda d: d["parts"][0].update(name="bad\u0000name"),
    ):  # fmt: skip
        data = json.loads(json.dumps(good))
        change(data)
        response = client.http.post("/api/projects/import", data=json.dumps(data))
        assert response.status_code in (200, 400, 422), response.text
        if response.status_code == 200:
            shown = client.http.get(f"/api/projects/{response.get_json()['id']}")
            assert shown.status_code == 200, "what was kept can be opened"
            client.delete(f"/projects/{response.get_json()['id']}")
    assert len(client.get("/projects")) == before
    assert client.http.post("/api/projects/import", data=json.dumps(good)).status_code == 200


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda d: d["values"].append({**d["values"][0], "id": "v900"}), "two values"),
        (lambda d: d["values"][0].update(name="mm"), "mm"),
        (lambda d: d.update(profile="nobody"), "profile"),
        (lambda d: d["recipe"][1].update(tolerances={"nowhere": "±0.1"}), "nowhere"),
        (lambda d: d["parts"][0].update(name="bad\u0007name"), "name"),
    ],
)
def test_files_that_say_what_cannot_be_meant_are_refused(change: Any, words: str) -> None:
    data = json.loads(dump(make_feeder()))
    change(data)
    with pytest.raises(FileError, match=words):
        load(json.dumps(data))


# ---- outlines ------------------------------------------------------------------------------------------------------


def test_drawings_that_swell_are_refused_before_they_do() -> None:
    """Shapes used in shapes used in shapes, entities (also where İ is two letters in lower case), blocks in blocks in rows."""
    used = "".join(f'<g id="g{k + 1}">{"".join(f"<use xlink:href=#g{k}#/>" for _ in range(10))}</g>' for k in range(9))
    used = used.replace("=#", '="#').replace("#/>", '"/>')
    circle = f'{HEAD}<defs><g id="g0"><circle cx="1" cy="1" r="1"/></g>{used}</defs><use xlink:href="#g9"/></svg>'
    loop = f'{HEAD}<g id="a"><use xlink:href="#b"/></g><g id="b"><use xlink:href="#a"/></g></svg>'
    entity = f'İİİ<!DOCTYPE svg [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]>{HEAD}<text>&b;</text></svg>'
    plain_entity = f'<!DOCTYPE svg [<!ENTITY a "aaaa">]>{HEAD}<text>&a;</text></svg>'
    long_path = f'{HEAD}<path d="M0 0{" L1 1 L0 0" * 200_000}"/></svg>'
    pattern = "<svg " * 10_000
    for text in (circle, loop, entity, plain_entity, long_path, pattern):
        begun = time.monotonic()
        with pytest.raises(FileError):
            read_outline("x.svg", text)
        assert time.monotonic() - begun < 5


def test_a_block_in_rows_and_columns_is_as_many() -> None:
    import io

    import ezdxf

    document = ezdxf.new()
    document.header["$INSUNITS"] = 4
    block = document.blocks.new("peg")
    block.add_circle((0, 0), 1)
    row = document.modelspace().add_blockref("peg", (0, 0))
    row.dxf.row_count, row.dxf.column_count, row.dxf.row_spacing, row.dxf.column_spacing = 2, 3, 10, 10
    out = io.StringIO()
    document.write(out)
    found = read_outline("x.dxf", out.getvalue())
    assert len(found.curves) == 6
    assert (found.width_mm, found.height_mm) == pytest.approx((22, 12))
    row.dxf.row_count = 30_000
    out = io.StringIO()
    document.write(out)
    with pytest.raises(FileError, match="times"):
        read_outline("x.dxf", out.getvalue())


def test_a_mesh_in_a_drawing_is_left_out_and_said() -> None:
    import io

    import ezdxf

    document = ezdxf.new()
    document.header["$INSUNITS"] = 4
    mesh = document.modelspace().add_polymesh((3, 3))
    mesh.set_mesh_vertex((1, 1), (1, 1, 0))
    document.modelspace().add_line((0, 0), (10, 0))
    out = io.StringIO()
    document.write(out)
    assert read_outline("x.dxf", out.getvalue()).left_out == ["1 × mesh"]


# ---- damaged folders -----------------------------------------------------------------------------------------------


@pytest.mark.parametrize("contents", [b"garbage" * 500, b"SQLite format 3\x00" + b"\xff" * 4000, b""])
def test_a_damaged_cache_is_dropped(tmp_path: Path, contents: bytes) -> None:
    path = tmp_path / "cache.db"
    path.write_bytes(contents)
    store = ResultStore(path)
    store.keep("k", '{"parts": []}', {})
    assert store.report("k") == '{"parts": []}'


def test_a_cache_that_cannot_be_written_is_done_without(tmp_path: Path) -> None:
    store = ResultStore(tmp_path / "cache.db")
    other = sqlite3.connect(tmp_path / "cache.db", isolation_level=None)
    store._database.connection().execute("PRAGMA busy_timeout=50")  # type: ignore[union-attr]
    other.execute("BEGIN EXCLUSIVE")
    store.keep("k", '{"parts": []}', {})
    assert store.report("k") is None
    other.execute("ROLLBACK")
    store.keep("k", '{"parts": []}', {})
    assert store.report("k") is not None


def test_the_cache_is_bounded_by_bytes(tmp_path: Path) -> None:
    store = ResultStore(tmp_path / "cache.db", most_bytes=3_000_000)
    for n in range(120):
        report = json.dumps({"parts": [{"mesh": f"m{n}", "things": ""}]})
        store.keep(f"k{n}", report, {f"m{n}": os.urandom(100_000)})
    assert store.report("k119") is not None and store.report("k0") is None and store.mesh("m0") is None
    assert sum(f.stat().st_size for f in tmp_path.iterdir()) < 12_000_000


def test_data_of_a_newer_version_are_not_touched(tmp_path: Path) -> None:
    path = tmp_path / "projects.db"
    Database(path).connection().execute("PRAGMA user_version = 999")
    before = path.read_bytes()
    with pytest.raises(FileError, match="newer version"):
        Database(path)
    assert path.read_bytes() == before


def test_damaged_data_are_not_written_over(tmp_path: Path) -> None:
    path = tmp_path / "projects.db"
    path.write_bytes(b"not a database at all" * 300)
    with pytest.raises(FileError, match="damaged"):
        Database(path)
    assert path.read_bytes() == b"not a database at all" * 300


def test_one_damaged_row_leaves_the_others_usable(tmp_path: Path) -> None:
    database = Database(tmp_path / "projects.db")
    store = ProjectStore(database)
    good, bad = store.create("good"), store.create("bad")
    database.connection().execute("UPDATE project SET document = '{broken' WHERE id = ?", (bad.id,))
    fresh = ProjectStore(database)
    assert {s.name for s in fresh.summaries()} == {"good", "bad"}
    assert fresh.get(good.id).project.name == "good"
    with pytest.raises(FileError, match="damaged"):
        fresh.get(bad.id)


def test_two_servers_do_not_share_a_folder(tmp_path: Path) -> None:
    held = FolderLock(tmp_path)
    words = [sys.executable, "-m", "dovejoint.cli", "serve", "--port", "0", "--data", str(tmp_path)]
    second = subprocess.run(words, capture_output=True, text=True, timeout=60)
    assert second.returncode == 2 and "Another server works in" in second.stderr
    assert len(second.stderr.strip().splitlines()) == 1
    held.release()
    FolderLock(tmp_path).release()


def test_a_full_disk_keeps_what_was_kept(tmp_path: Path) -> None:
    """The database may not grow any more: the edit is refused with a sentence, the project is as it was, and goes on afterwards."""
    app = create_app(Config(tmp_path / "data", tmp_path, editors=1, helpers=1))
    try:
        client = Client(app.test_client())
        state = client.post("/projects", {"name": "Full"})
        database = app.extensions["dovejoint"]["store"].database
        pages = database.connection().execute("PRAGMA page_count").fetchone()[0]
        database.connection().execute(f"PRAGMA max_page_count = {pages}")
        refused = None
        for n in range(40):
            response = client.http.post(
                f"/api/projects/{state['id']}/commands",
                json={
                    "seen": state["version"],
                    "command": {"do": "AddValue", "name": f"v{n}", "formula": "1 mm + " * 40 + "1 mm"},
                },
            )
            if response.status_code != 200:
                refused = response.get_json()
                break
            state = client.get(f"/projects/{state['id']}")
        assert refused is not None and "disk is full" in refused["detail"]
        assert client.get(f"/projects/{state['id']}")["version"] == state["version"]
        database.connection().execute("PRAGMA max_page_count = 100000")
        assert client.do(client.get(f"/projects/{state['id']}"), "AddValue", name="after", formula="1 mm")
    finally:
        app.extensions["dovejoint"]["engine"].close()


# ---- workers -------------------------------------------------------------------------------------------------------


@pytest.mark.skipif(sys.platform != "linux", reason="elsewhere a worker ends at its next word")
def test_workers_die_with_their_server(tmp_path: Path) -> None:
    words = [sys.executable, "-m", "dovejoint.cli", "serve", "--port", "0", "--data", str(tmp_path)]
    server = subprocess.Popen(words, stdout=subprocess.PIPE, text=True)
    assert server.stdout is not None
    server.stdout.readline()

    def descendants() -> list[int]:
        found = psutil.Process(server.pid).children(recursive=True)
        return [p.pid for p in found if p.is_running()]

    # what keeps an eye on handles, what workers are copied from, and a worker
    deadline = time.monotonic() + 60
    while len(descendants()) < 3:
        assert time.monotonic() < deadline
        time.sleep(0.05)
    workers = descendants()
    server.kill()
    server.wait()
    deadline = time.monotonic() + 20
    while any(
        Path(f"/proc/{pid}").exists() and "Z" not in Path(f"/proc/{pid}/stat").read_text().split(")")[-1][:3]
        for pid in workers
    ):
        assert time.monotonic() < deadline, "a worker outlives its server"
        time.sleep(0.05)


def test_requests_that_wait_leave_threads_free(client: Client, app: Any) -> None:
    """More requests than may wait for a worker: those too many are told at once, and the work goes on."""
    engine = app.extensions["dovejoint"]["engine"]
    from dovejoint.engine.service import MOST_WAITING

    held = [engine._waiting.acquire(blocking=False) for _ in range(MOST_WAITING)]
    assert all(held)
    try:
        state = client.feeder()
        # a document that no one asked for yet
        state = client.do(state, "SetValue", value=state["values"][0]["id"], formula="2.345 mm")
        response = client.http.get(f"/api/projects/{state['id']}/evaluation")
        assert response.status_code == 503 and "goes on" in response.get_json()["detail"]
    finally:
        for _ in held:
            engine._waiting.release()
    assert client.get(f"/projects/{state['id']}/evaluation")["ok"]
    assert threading.active_count() < 60
