"""Hours of use at random through the real server: memory, handles and disk must level out, and nothing may answer with a fault of ours.

``./dove soak 60`` (minutes). Every minute a line; at the end what the last quarter held beside the second, and a word whether that is level.
"""

from __future__ import annotations

import json
import random
import statistics
import sys
import tempfile
import time
import urllib.request
from collections import Counter
from pathlib import Path
from typing import Any

from served import Refused, Server

from dovejoint.sample import SAMPLES

#: samples that are worked on in turn: small and large, with joints of many kinds
USED = ["feeder", "jar", "bracket", "flap", "hatch", "panel", "dial", "seed-tray", "cable-comb", "anchor"]
#: by how much the last quarter may hold more than the second
MORE_MEMORY, MORE_HANDLES = 1.15, 12


class User:
    """Somebody who opens samples, changes values, looks, exports, and throws projects away again."""

    def __init__(self, server: Server, rng: random.Random) -> None:
        self.server, self.rng = server, rng
        self.asked: Counter[str] = Counter()
        self.refused: Counter[str] = Counter()
        self.faults: list[str] = []
        self.edit_ms: list[float] = []

    def ask(self, what: str, path: str, body: Any = None, method: str | None = None) -> Any:
        """An answer, or ``None`` where it is refused with a sentence."""
        self.asked[what] += 1
        try:
            found = self.server.fetch(path, body, method, timeout_s=150)
        except Refused as error:
            self.refused[f"{what} {error.status}"] += 1
            # a model always answers, or is still worked on (503): what of it cannot be made is said at its step
            if error.status != 503 and (error.status >= 500 or what in ("shown", "evaluation")):
                self.faults.append(f"{what} {path.split('?')[0]}: {error}{self.figures(path)}")
            return None
        return json.loads(found) if found[:1] in (b"{", b"[") else found

    def figures(self, path: str) -> str:
        """The values of a project at which something went wrong, to find it again."""
        try:
            state = self.server.call("/".join(path.split("/")[:3]))
        except (Refused, ValueError):
            return ""
        return f" in {state['document']['name']} at {[(v['name'], v['formula']) for v in state['document']['values']]}"

    def session(self, lasting: str | None) -> str:
        """One project from its opening to its end; a lasting one is edited and stays."""
        rng = self.rng
        state = (
            self.ask("open", f"/projects/{lasting}")
            if lasting
            else self.ask("new", "/projects", {"sample": rng.choice(USED)})
        )
        path = f"/projects/{state['id']}"
        stream = urllib.request.urlopen(f"{self.server.address}/api/events?project={state['id']}", timeout=60)
        try:
            for _ in range(rng.randrange(4, 12)):
                state = self.edit(state, path)
                if rng.random() < 0.5:
                    self.look(state, path)
        finally:
            stream.close()
        if lasting is None:
            self.ask("remove", path, method="DELETE")
        return str(state["id"])

    def edit(self, state: Any, path: str) -> Any:
        rng = self.rng
        values = [
            v
            for v in self.ask("open", path)["document"]["values"]
            if v["formula"].replace(".", "").removesuffix(" mm").isdigit()
        ]
        dice = rng.random()
        begun = time.perf_counter()
        if dice < 0.15 and state["undo"]:
            after = self.ask("undo", f"{path}/undo", {"seen": state["version"]})
        elif dice < 0.2 and state["redo"]:
            after = self.ask("redo", f"{path}/redo", {"seen": state["version"]})
        elif values:
            value = rng.choice(values)
            figure = float(value["formula"].removesuffix(" mm")) * rng.uniform(0.93, 1.08)
            command = {"do": "SetValue", "value": value["id"], "formula": f"{figure:.3f} mm"}
            if dice < 0.5:
                self.ask("gauge", f"{path}/gauge", {"command": command})
                self.ask("preview", f"{path}/preview", {"command": command, "shown": True})
            begun = time.perf_counter()
            after = self.ask("edit", f"{path}/commands", {"seen": state["version"], "command": command})
        else:
            after = None
        if after is None:
            return self.ask("open", path)
        if self.ask("shown", f"{path}/evaluation?shown=1") is not None:
            self.edit_ms.append((time.perf_counter() - begun) * 1000)
        return after

    def look(self, state: Any, path: str) -> None:
        rng = self.rng
        report = self.ask("evaluation", f"{path}/evaluation")
        if not report or not report["parts"]:
            return
        for part in report["parts"]:
            self.ask("mesh", f"/mesh/{part['mesh']}")
        part = rng.choice(report["parts"])["id"]
        joints = [j["step"] for j in report["joints"]]
        kinds = ["picture", "prints", "export", "file", "coupon", "history"] + (["map", "drawing"] if joints else [])
        what = rng.choice(kinds)
        joint = rng.choice(joints) if joints else ""
        address, body = {
            "picture": (f"{path}/picture", None),
            "prints": (f"{path}/prints", None),
            "export": (f"{path}/export", {"parts": [part], "format": rng.choice(["stl", "3mf", "step"])}),
            "file": (f"{path}/file", None),
            "coupon": (f"{path}/coupons/{rng.choice(['sizes', 'gaps', 'bores', 'walls'])}", None),
            "history": (f"{path}/history", None),
            "map": (f"{path}/joints/{joint}/map", None),
            "drawing": (f"{path}/joints/{joint}/drawing", None),
        }[what]
        self.ask(what, address, body)


def soak(minutes: float, seed: int = 1) -> bool:
    """Whether everything stayed level and no answer was a fault."""
    assert set(USED) <= set(SAMPLES)
    with tempfile.TemporaryDirectory() as folder:
        data = Path(folder)
        server = Server(data)
        user = User(server, random.Random(seed))
        rows: list[tuple[float, float, int, float]] = []
        try:
            lasting = user.ask("new", "/projects", {"sample": "feeder"})["id"]
            begun, told = time.monotonic(), 0.0
            while (now := time.monotonic() - begun) < minutes * 60:
                user.session(lasting if user.rng.random() < 0.25 else None)
                if now - told < 60 and now > 0:
                    continue
                told = now
                own, workers, handles = server.held()
                disk = {f.name: f.stat().st_size / 1e6 for f in data.rglob("*") if f.is_file()}
                cache = sum(size for name, size in disk.items() if name.startswith("cache"))
                rows.append((own, workers, handles, sum(disk.values()) - cache))
                edit = statistics.median(user.edit_ms[-100:]) if user.edit_ms else 0.0
                print(
                    f"{now / 60:5.1f} min  server {own:4.0f} MB, workers {workers:4.0f} MB  {handles:4d} handles  data {rows[-1][3]:6.1f} MB  cache {cache:6.1f} MB"
                    f"  edit {edit:4.0f} ms  {sum(user.asked.values())} asked, {sum(user.refused.values())} refused, {len(user.faults)} faults",
                    flush=True,
                )
        finally:
            server.stop()
        print(dict(user.asked), dict(user.refused), sep="\n")
        for fault in user.faults[:20]:
            print("FAULT", fault)
        if len(rows) < 4:
            print("too short to say whether it is level")
            return not user.faults
        quarter = len(rows) // 4
        early, late = rows[quarter : 2 * quarter], rows[-quarter:]
        means = [[statistics.median(row[k] for row in some) for k in range(3)] for some in (early, late)]
        limits = [means[0][0] * MORE_MEMORY, means[0][1] * MORE_MEMORY, means[0][2] + MORE_HANDLES]
        level = all(now <= most for now, most in zip(means[1], limits, strict=True))
        for name, (own, workers, handles) in zip(("second", "last"), means, strict=True):
            print(f"{name} quarter: server {own:.0f} MB, workers {workers:.0f} MB, {handles:.0f} handles")
        print("level" if level else "NOT LEVEL")
        return level and not user.faults


if __name__ == "__main__":
    sys.exit(0 if soak(float(sys.argv[1]) if len(sys.argv) > 1 else 60.0) else 1)
