"""A small form of the campaign of random recipes (tests/campaign.py); docs/kernel-limits.md tells of the large one."""

from __future__ import annotations

from campaign import campaign


def test_random_recipes_give_sound_solids_or_say_why() -> None:
    found = campaign(20, 11, steps=6)
    assert found.wrong == []
    assert found.steps > 80 and sum(n for (_, state), n in found.fared.items() if state == "ok") > 50
