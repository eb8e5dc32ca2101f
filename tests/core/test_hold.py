"""Make it hold: what is offered does what it says when it is taken, nothing is changed on the way, and where nothing helps that is said."""

from __future__ import annotations

import pytest
from building import Bench, Hub

from dovejoint.core.errors import CommandError
from dovejoint.core.joints.hold import make_it_hold
from dovejoint.sample.joined import make_hatch


def test_a_hatch_that_breaks_is_offered_figures_and_each_does_what_it_says() -> None:
    bench = Bench(make_hatch())
    latch = next(s.id for s in bench.project.recipe if s.name == "latch")
    bench.set("undercut", "1.6 mm")
    before = bench.project
    found = make_it_hold(bench.project, latch, 0.75, bench.cache, bench.gaps)
    assert bench.project is before and found.now < 0.6
    says = {o.says for o in found.offers}
    assert "the value undercut" in says and "the value tall" in says, says
    for offer in found.offers:
        tried = Bench(before)
        tried.do(**{"command": offer.command["do"], **{k: v for k, v in offer.command.items() if k != "do"}})
        joint = next(j for j in assess_all(tried) if j.step == latch)
        assert joint.chance.fits == pytest.approx(offer.chance, abs=1e-6) and offer.chance >= 0.75, offer
    # the undercut is brought down, and no farther than it must
    less = next(o for o in found.offers if o.says == "the value undercut")
    assert 0.4 < float(less.after.split()[0]) < 1.6


def assess_all(bench: Bench) -> list[object]:
    from dovejoint.core.joints import assess

    return list(assess(bench.project, bench.evaluate(), bench.gaps))


def test_where_the_printer_is_what_fails_no_figure_is_made_up() -> None:
    """A plain press of a bearing is loose for want of knowledge of the printer; the band is not widened to make it look well."""
    hub = Hub()
    found = make_it_hold(hub.project, hub.seat, 0.95, hub.cache, hub.gaps)
    assert found.offers == () and "No single figure" in found.message and found.now < 0.8


def test_what_holds_already_and_what_is_not_there() -> None:
    hub = Hub(grip="ribs")
    assert "as it is" in make_it_hold(hub.project, hub.seat, 0.8, hub.cache, hub.gaps).message
    with pytest.raises(CommandError, match="not there"):
        make_it_hold(hub.project, "s99", 0.8, hub.cache, hub.gaps)
    hub.set("wide", "16 mm")
    with pytest.raises(CommandError, match="could not be made"):
        make_it_hold(hub.project, hub.seat, 0.8, hub.cache, hub.gaps)
