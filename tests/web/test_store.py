"""The store against a plain list of documents: commits, undo and redo in any order, over restarts."""

from __future__ import annotations

import random
from pathlib import Path

import pytest

from dovejoint.core.document import Project, command_from
from dovejoint.core.errors import ClashError, CommandError
from dovejoint.sample import make_feeder
from dovejoint.store import Database, ProjectStore, ResultStore


@pytest.fixture
def path(tmp_path: Path) -> Path:
    return tmp_path / "projects.db"


def some_command(dice: random.Random, project: Project) -> dict[str, object]:
    value = dice.choice(project.values).id
    step = dice.choice(project.recipe).id
    return dice.choice([
        {"do": "SetValue", "value": value, "formula": f"{dice.uniform(1, 90):.2f} mm"},
        {"do": "AddValue", "name": f"x{dice.randrange(10**6)}", "formula": "inside / 2"},
        {"do": "SwitchStep", "step": step, "off": dice.random() < 0.5},
        {"do": "RenameStep", "step": step, "name": f"step {dice.randrange(100)}"},
        {"do": "EditPart", "part": project.parts[0].id, "role": dice.choice(["printed", "bought", "made"])},
        {"do": "RenameProject", "name": f"Feeder {dice.randrange(100)}"},
    ])  # fmt: skip


@pytest.mark.parametrize("seed", [1, 2, 3])
def test_any_order_of_commits_undo_and_redo(path: Path, seed: int) -> None:
    dice = random.Random(seed)
    store = ProjectStore(Database(path))
    found = store.insert(make_feeder())
    states, at = [found.project], 0
    for turn in range(120):
        what = dice.choice(["do", "do", "undo", "redo"])
        if what == "do":
            found = store.commit(found.id, found.version, command_from(some_command(dice, found.project)))
            states[at + 1 :] = [found.project]
            at += 1
        elif (what == "undo" and at > 0) or (what == "redo" and at < len(states) - 1):
            found = getattr(store, what)(found.id, found.version)
            at += 1 if what == "redo" else -1
        else:
            with pytest.raises(CommandError, match="There is nothing to"):
                getattr(store, what)(found.id, found.version)
        assert found.project == states[at]
        assert found.version >= turn // 3
        assert (found.undo is None, found.redo is None) == (at == 0, at == len(states) - 1)
        assert len(store.history(found.id)) == at
        if dice.random() < 0.1:
            # as after a restart: another connection to the same file
            store = ProjectStore(Database(path))
            assert store.get(found.id).project == states[at]


def test_a_refused_command_leaves_no_trace(path: Path) -> None:
    store = ProjectStore(Database(path))
    found = store.insert(make_feeder())
    bad = {"do": "SetValue", "value": found.project.values[0].id, "formula": "wall"}
    with pytest.raises(CommandError):
        store.commit(found.id, found.version, command_from(bad))
    assert store.get(found.id) == found
    assert store.history(found.id) == []


def test_clashes_are_found_through_undo_too(path: Path) -> None:
    store = ProjectStore(Database(path))
    found = store.insert(make_feeder())
    wall = {"do": "SetValue", "value": found.project.values[0].id, "formula": "2 mm"}
    later = store.commit(found.id, found.version, command_from(wall))
    store.undo(found.id, later.version)
    # the value is as it was, but the one who wrote this never saw what happened to it
    with pytest.raises(ClashError, match="changed elsewhere"):
        store.commit(found.id, found.version, command_from({**wall, "formula": "3 mm"}))
    with pytest.raises(ClashError):
        store.undo(found.id, found.version)


def test_projects_are_kept_apart_and_go_whole(path: Path) -> None:
    store = ProjectStore(Database(path))
    first, second = store.insert(make_feeder()), store.create("Second")
    store.commit(second.id, 0, command_from({"do": "AddValue", "name": "a", "formula": "1 mm"}))
    store.delete(second.id)
    with pytest.raises(CommandError, match="no such project"):
        store.get(second.id)
    assert [s.id for s in store.summaries()] == [first.id]
    left = Database(path).connection().execute("SELECT count(*) FROM journal").fetchone()[0]
    assert left == 0, "a project takes its journal with it"


def test_files_go_with_the_last_that_speaks_of_them(path: Path) -> None:
    database = Database(path)
    store = ProjectStore(database)
    first, second, third = (store.create(name) for name in ("First", "Second", "Third"))
    shared, own, recent = (store.keep_file(data) for data in (b"shared", b"own", b"written about in another window"))
    for project, hash in ((first, shared), (first, own), (second, shared)):
        fields = {"file": {"hash": hash, "name": "x.step"}}
        add = {"do": "AddStep", "kind": "bring_in", "fields": fields, "new_part": {"name": f"Part {hash}"}}
        version = store.get(project.id).version
        store.commit(project.id, version, command_from(add))
    # taken back, it can be done again: its file stays
    store.undo(second.id, store.get(second.id).version)
    with database.transaction() as connection:
        connection.execute("UPDATE file SET added = '2020-01-01T00:00:00+00:00' WHERE hash <> ?", (recent,))
    store.delete(first.id)
    assert store.file(own) is None and store.file(shared) is not None and store.file(recent) is not None
    store.delete(third.id)
    assert store.file(shared) is not None
    store.delete(second.id)
    assert store.file(shared) is None and store.file(recent) is not None


def test_migrations_run_once_and_results_can_be_thrown_away(tmp_path: Path) -> None:
    path = tmp_path / "projects.db"
    for _ in range(2):
        assert Database(path).connection().execute("PRAGMA user_version").fetchone()[0] == 3
    results = ResultStore(tmp_path / "cache.db")
    results.keep("k1", '{"parts": [{"mesh": "m1", "things": ""}]}', {"m1": b"one", "m2": b"two"})
    assert (results.report("k1"), results.mesh("m2")) == ('{"parts": [{"mesh": "m1", "things": ""}]}', b"two")
    again = ResultStore(tmp_path / "cache.db")
    assert (again.mesh("m1"), again.mesh("m2")) == (b"one", None), "what no report names is swept away at the start"
