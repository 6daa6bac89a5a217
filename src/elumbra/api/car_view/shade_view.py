"""Shade, law and heat of a window as the screens show them."""

from __future__ import annotations

from collections.abc import Sequence

from elumbra.api.car_view.reason_schemas import ReasonOut
from elumbra.api.car_view.schemas import HeatOut, ShadeOut
from elumbra.api.car_view.verdicts import percent_of
from elumbra.core.film import Film
from elumbra.core.law import Verdict
from elumbra.core.light import break_caution, heat_side, radio_advice, shade_hex, warranty_words
from elumbra.core.measure import MeasuredPane
from elumbra.core.starting import StartingValues
from elumbra.core.work import (
    ReasonKind,
    ShadedCar,
    Window,
    WindowShade,
    pane_heat,
    reason_words,
    releases_by_itself,
    uncovered,
)
from elumbra.storage.records import ReasonRecord

NO_GLASS = "bare glass not known"
DEFAULT_BACKDROP = shade_hex(0.75)


def heat_out(film: Film, window: Window, pane: MeasuredPane, shade: WindowShade, starting: StartingValues) -> HeatOut:
    """What a window's film does besides darkening."""
    side = heat_side(
        film,
        bare_vlt=shade.bare.vlt if shade.bare else None,
        combined_vlt=shade.combined.vlt if shade.combined else None,
        starting=starting,
    )
    facts = pane_heat(window, pane)
    return HeatOut(
        tser_percent=percent_of(side.tser),
        absorbed_percent=percent_of(side.solar_absorbed),
        glare_percent=percent_of(side.glare_cut),
        uv_percent=percent_of(side.uv_rejected),
        warranty=warranty_words(film),
        radio=radio_advice(film, facts),
        break_reasons=list(break_caution(film, facts, starting=starting)),
    )


def reason_out(record: ReasonRecord, window: Window, verdicts: Sequence[Verdict]) -> ReasonOut:
    """A lead's reason as the screens show it."""
    reason = window.reason
    assert reason is not None
    exempt = reason.kind is ReasonKind.MEDICAL_EXEMPTION and record.film_id == window.film_id
    open_ones = [one for one in verdicts if exempt and not releases_by_itself(one)]
    left = next((why for one in open_ones if (why := uncovered(one, reason))), "")
    return ReasonOut(
        id=record.id,
        version=record.version,
        kind=reason.kind,
        words=reason_words(reason),
        wish=record.wish,
        document=record.document,
        expires_on=record.expires_on,
        note=record.note,
        state=record.state,
        issued_on=record.issued_on,
        no_expiry=record.no_expiry,
        least_percent=record.least_percent,
        citation=record.citation,
        standing=not reason.lapsed and record.film_id == window.film_id and not left,
        expired=reason.lapsed,
        uncovered=left,
    )


def shade_out(shade: WindowShade, car: ShadedCar, window: Window, starting: StartingValues) -> ShadeOut:
    """How dark a window is or will be, with both schools and the whole chain."""
    combined, bare = shade.combined, shade.bare
    if combined is None or bare is None:
        return ShadeOut(
            bare_percent=None, bare_pm_points=None, vlt_percent=None, bonded_percent=None, bench_percent=None,
            chain_percent=None, reflects_outside_percent=None, reflects_inside_percent=None, pm_points=None,
            formula=NO_GLASS, backdrop=DEFAULT_BACKDROP, bare_backdrop=DEFAULT_BACKDROP,
        )  # fmt: skip
    optics = car.optics(window.id, starting=starting)
    return ShadeOut(
        bare_percent=100 * bare.vlt,
        bare_pm_points=100 * bare.pm,
        vlt_percent=100 * combined.vlt,
        bonded_percent=percent_of(combined.bonded),
        bench_percent=100 * combined.bench,
        chain_percent=100 * optics.through if optics else None,
        reflects_outside_percent=100 * optics.back_outside if optics else None,
        reflects_inside_percent=100 * optics.back_inside if optics else None,
        pm_points=100 * combined.pm,
        formula=combined.formula,
        backdrop=shade_hex(combined.vlt),
        bare_backdrop=shade_hex(bare.vlt),
    )
