"""Cords, keys, hooks over an edge and pins with a diamond, made from nothing with the mouse and with the keyboard."""

from __future__ import annotations

import pytest
from hands import Hands
from playwright.sync_api import Page, expect


def put(hands: Hands, name: str, role: str = "", **figures: str) -> None:
    """A block on the top of the first part, as a part of its own."""
    hands.step("Body")
    hands.open("on")
    hands.offer("top of Part 1")
    for field, figure in figures.items():
        hands.figure(field, figure)
    hands.choose("operation", "as new part")
    hands.call(name)
    hands.keep()
    if role:
        hands.page.get_by_label("parts", exact=True).get_by_text(name, exact=True).click()
        hands.page.get_by_role("group", name="role").get_by_role("button", name=role).click()
        hands.press("Escape")
        hands.idle()


def joint(hands: Hands) -> dict[str, object]:
    found: dict[str, object] = hands.state()["report"]["joints"][-1]
    return found


def test_a_cord_in_its_groove_with_the_mouse(hands: Hands, page: Page) -> None:
    hands.begin("Dry")
    hands.block("70 mm", "50 mm", "16 mm")
    put(hands, "Lid", wide="70 mm", deep="50 mm", high="3 mm")
    hands.step("Groove for a cord")
    hands.hide("Lid")
    hands.open("face")
    hands.face("Part 1", "top")
    expect(hands.draft).to_contain_text("squeezed by Lid")
    hands.keep()
    hands.show("Lid")
    found = joint(hands)
    assert found["per"] == "across" and found["measured_mm"]["least"] == pytest.approx(found["drawn_mm"], abs=2e-3)  # type: ignore[index]
    row = hands.sentence(4)
    # what cannot be is said beside it, and nothing is lost
    hands.figure("wide", "1 mm", row)
    expect(row).to_contain_text("narrower than its cord")
    hands.press("Escape")
    hands.figure("wide", "4 mm", row)
    hands.choose("stuff", "foam", row)
    hands.idle()
    assert joint(hands)["drawn_mm"] == pytest.approx(1.8, abs=0.011)
    hands.gauge("Groove for a cord").click()
    card = page.locator("[data-joint]")
    expect(card).to_contain_text("Lid against Part 1; all gaps are straight across")
    expect(card).to_contain_text("the cord is squeezed by")
    page.reload()
    hands.idle()
    assert hands.state()["report"]["ok"] and joint(hands)["drawn_mm"] == pytest.approx(1.8, abs=0.011)


def test_a_tongue_along_two_edges_with_the_mouse(hands: Hands, page: Page) -> None:
    hands.begin("Sill")
    hands.block("60 mm", "40 mm", "12 mm")
    put(hands, "Lid", wide="60 mm", deep="40 mm", high="8 mm")
    hands.step("Tongue along edges")
    hands.hide("Lid")
    hands.open("base")
    hands.face("Part 1", "top")
    hands.open("along")
    labels = [edge["label"] for edge in hands.edges("Part 1")]
    front, right = (
        next(k for k, label in enumerate(labels) if f"{side} and top" in label) for side in ("front", "right side")
    )
    take = hands.draft.get_by_role("button", name="take", exact=True)
    hands.edge("Part 1", front)
    expect(take).to_be_in_viewport(ratio=1)
    hands.edge("Part 1", right)
    take.click()
    expect(hands.draft).to_contain_text("along 2 edges of Part 1")
    hands.keep()
    hands.show("Lid")
    found = joint(hands)
    measured = found["measured_mm"]
    assert measured["least"] == pytest.approx(found["drawn_mm"], abs=3e-3)  # type: ignore[index]
    assert measured["most"] == pytest.approx(found["drawn_mm"], abs=3e-3)  # type: ignore[index]
    row = hands.sentence(4)
    hands.figure("thickness", "0.7 mm", row)
    expect(row).to_contain_text("The gap leaves nothing of the tongue")
    hands.press("Escape")
    hands.figure("thickness", "1.8 mm", row)
    hands.idle()
    hands.gauge("Tongue along edges").click()
    expect(page.locator("[data-joint]")).to_contain_text("Part 1 into Lid; all gaps are per side")
    page.reload()
    hands.idle()
    assert hands.state()["report"]["ok"] and joint(hands)["drawn_mm"] == found["drawn_mm"]
