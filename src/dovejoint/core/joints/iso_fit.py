"""Fits of ISO 286 in any family that has a nominal size, round or flat: a choice of the fit, the zones of hole and shaft, and the band that they give."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Annotated, Literal

from pydantic import Field

from ..errors import FormulaError, StepError
from ..fits import Wanted
from ..quantities.iso286 import fit_of
from ..recipe import Choice, FieldSpec, StepContext
from .family import FIT_SAID, FitFields, figure, wanted_of

__all__ = ["ISO", "ISO_FIT_SAID", "ZONES_SPEC", "IsoFitFields", "iso_band", "iso_or_wanted", "meets_nominal"]

ISO = Choice("iso", "ISO 286")
ZONES_SPEC = FieldSpec("zones", "text", "hole and shaft zone", "H8/f7")
#: what is there and the nominal size that its fit is taken at may differ by this share
NOMINAL = 0.02
#: how a fit is said in the sentences of families that know ISO 286
ISO_FIT_SAID = (*FIT_SAID, (" ", {"fit": ["iso"]}), ("{zones}", {"fit": ["iso"]}))


class IsoFitFields(FitFields):
    """With ``iso`` the zones of hole and shaft (H8/f7) at the nominal size say the band."""

    fit: Literal["press", "snug", "slide", "loose", "own", "iso"] = "slide"  # type: ignore[assignment]
    zones: Annotated[str, Field(max_length=20)] = "H8/f7"


def iso_band(nominal_mm: float, zones: str) -> Wanted:
    """The band per side: ISO 286 fits are clearances of both sides together, in µm. Raises StepError."""
    try:
        fit = fit_of(nominal_mm, zones)
    except FormulaError as error:
        raise StepError(error.message, field="zones") from None
    least, most = fit.least_um / 2000, fit.most_um / 2000
    return Wanted(least, (least + most) / 2, most).checked()


def iso_or_wanted(nominal: str) -> Callable[[IsoFitFields, Mapping[str, float]], Wanted]:
    """A family's wanted band: by ISO 286 at the size in the field ``nominal`` where that is asked for, else as of all families."""

    def wanted(fields: IsoFitFields, figures: Mapping[str, float]) -> Wanted:
        return iso_band(figure(figures, nominal), fields.zones) if fields.fit == "iso" else wanted_of(fields, figures)

    return wanted


def meets_nominal(
    ctx: StepContext, size_mm: float, field: str, name: str, what: str, sign: str = "", spare_mm: float = 0.0
) -> None:
    """A fit of ISO 286 is taken at the nominal size in ``field``, called ``name``; refuse one that is not that of what is there, “what is picked has”, but
    for what that may vary by. Raises StepError."""
    if ctx.fields.fit != "iso":
        return
    nominal = ctx.positive(field, name)
    if abs(size_mm - nominal) > max(NOMINAL * nominal, spare_mm):
        raise StepError(f"The fit is taken at {sign}{nominal:.4g} mm, but {what} {sign}{size_mm:.4g} mm.", field=field)
