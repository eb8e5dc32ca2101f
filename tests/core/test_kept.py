"""What is kept is bounded by bytes, and what was not used for longest goes first."""

from __future__ import annotations

from dovejoint.core.kept import Kept


def test_the_least_used_goes_first() -> None:
    kept: Kept[bytes] = Kept(100, len)
    for name in "abc":
        kept.put(name, bytes(30))
    assert kept.get("a") == bytes(30)
    kept.put("d", bytes(30))
    assert sorted(kept.keys()) == ["a", "c", "d"] and kept.bytes == 90
    assert kept.get("b") is None


def test_the_last_one_stays_and_another_of_its_name_takes_its_place() -> None:
    kept: Kept[bytes] = Kept(100, len)
    kept.put("a", bytes(500))
    assert len(kept) == 1 and kept.bytes == 500
    kept.put("a", bytes(40))
    assert kept.bytes == 40
    made = []
    for _ in range(2):
        assert kept.made("b", lambda: made.append(1) or b"x") == b"x"
    assert made == [1]
