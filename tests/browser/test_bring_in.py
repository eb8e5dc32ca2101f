"""A bought sensor from a STEP file: brought in, built around, replaced by a newer one; damaged files; and after a reload."""

from __future__ import annotations

from pathlib import Path

import pytest
from building import Bench
from hands import Hands
from playwright.sync_api import Page, expect

from dovejoint.core.document import new_project
from dovejoint.core.solid import write_step


def sensor(path: Path, wide: float, also: bool = False) -> Path:
    """A STEP file of a board so wide, and a second solid if wanted."""
    bench = Bench(new_project("Sensor"))
    for name, w in (("sensor board", wide), ("cable plug", 9.0)):
        fields = {"wide": f"{w} mm", "deep": "20 mm", "high": "4 mm"}
        bench.do("AddStep", kind="body", fields=fields, new_part={"name": name})
    parts = [(p.name, "#888888", bench.evaluate().parts[p.id].solid) for p in bench.project.parts]
    path.write_bytes(write_step(parts if also else parts[:1]))
    return path


def volume(hands: Hands, name: str) -> float:
    return float(next(p for p in hands.state()["report"]["parts"] if p["name"] == name)["volume_mm3"])


def test_a_housing_follows_the_newer_file_of_a_sensor(hands: Hands, page: Page, tmp_path: Path) -> None:
    hands.begin("Housing")
    hands.step("Bring in a file")
    page.get_by_label("file to bring in").set_input_files(sensor(tmp_path / "sensor.step", 30))
    expect(hands.draft).to_contain_text("sensor.step")
    hands.keep()
    expect(hands.sentence(1)).to_contain_text("Bring in sensor board from sensor.step")
    assert volume(hands, "sensor board") == pytest.approx(2400)
    assert hands.state()["project"]["document"]["parts"][0]["role"] == "reference"

    # a cover drawn from its top, one millimetre wider all round
    hands.step("Extrude")
    hands.face("sensor board", "top")
    hands.draft.get_by_role("button", name="take").click()
    hands.idle()
    page.get_by_role("button", name="add to this sentence").last.click()
    page.get_by_text("set the outline in").first.click()
    hands.figure("inset", "-1 mm")
    hands.figure("distance", "2 mm")
    hands.choose("operation", "as new part")
    hands.keep()
    assert volume(hands, "Part 2") == pytest.approx(32 * 22 * 2)

    # what cannot be read says so, and the old one stays
    hands.open("file", hands.sentence(1))
    (tmp_path / "bad.step").write_bytes((tmp_path / "sensor.step").read_bytes()[:900])
    page.get_by_label("file to bring in").set_input_files(tmp_path / "bad.step")
    expect(hands.sentence(1).get_by_role("alert")).to_be_visible()
    assert volume(hands, "sensor board") == pytest.approx(2400)
    # a newer one takes its place, and the cover follows
    page.get_by_label("file to bring in").set_input_files(sensor(tmp_path / "sensor-b.step", 32))
    expect(hands.sentence(1)).to_contain_text("sensor-b.step")
    hands.idle()
    assert volume(hands, "sensor board") == pytest.approx(2560)
    assert volume(hands, "Part 2") == pytest.approx(34 * 22 * 2)
    hands.press("Control+z")
    hands.idle()
    assert volume(hands, "Part 2") == pytest.approx(32 * 22 * 2)
    page.reload()
    page.locator("#stage").wait_for()
    hands.idle()
    assert volume(hands, "Part 2") == pytest.approx(32 * 22 * 2)

    # the project file carries the sensor: as another project it is whole
    with page.expect_download() as waiting:
        page.get_by_role("link", name="project file").click()
    assert waiting.value.suggested_filename.endswith(".dove.zip")
    saved = tmp_path / waiting.value.suggested_filename
    waiting.value.save_as(saved)
    hands.start()
    page.get_by_label("project file").set_input_files(saved)
    page.locator("#stage").wait_for()
    hands.idle()
    assert volume(hands, "sensor board") == pytest.approx(2400)


def test_one_of_several_solids_is_chosen(hands: Hands, page: Page, tmp_path: Path) -> None:
    hands.begin("Kit")
    hands.step("Bring in a file")
    page.get_by_label("file to bring in").set_input_files(sensor(tmp_path / "kit.step", 30, also=True))
    solids = page.get_by_role("list", name="solids of the file")
    expect(solids.get_by_role("button")).to_have_count(2)
    solids.get_by_role("button", name="cable plug").click()
    hands.keep()
    assert volume(hands, "cable plug") == pytest.approx(720)
