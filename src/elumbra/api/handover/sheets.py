"""What each paper says. Put together once, drawn as PDF and as the customer's file."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

from elumbra.api.car_view.exemptions import exemption_blocks
from elumbra.api.car_view.film_words import METAL, films_told, has_metal
from elumbra.api.handover.parts import HandoverParts
from elumbra.car import LookedAt, lines_of
from elumbra.core.bay import PHASE_WORDS
from elumbra.core.film import Film
from elumbra.core.inspection import Wording
from elumbra.core.light import warranty_words
from elumbra.core.pricing import dollars
from elumbra.core.units import format_inches
from elumbra.core.words import counted
from elumbra.core.work import reason_words
from elumbra.documents.sheet import Block, Heading, Label, Picture, Rows, Sheet, Signed, Words
from elumbra.storage.photos import MissingPictureError, content_of, photos_of

INFORMS = "This paper informs; it is not legal advice. The law itself and the local officer’s meter come first."


def _day(day: date) -> str:
    return f"{day:%A, %B} {day.day}, {day.year}"


def _percent(share: float | None) -> str:
    return "not read" if share is None else f"{100 * share:.1f} %"


def _before(parts: HandoverParts, at: LookedAt) -> str:
    bare = parts.look.car.shades[at.window.id].bare
    if bare is None:
        return "not known"
    return f"{100 * bare.vlt:.1f} % ({at.window.bare_vlt_source.value})"


def _film(parts: HandoverParts, at: LookedAt) -> Film:
    return parts.look.car.job.films[at.window.film_id or ""]


def record_sheet(parts: HandoverParts) -> Sheet:
    """The job record: films, lots, light before and after, the law and its source, reasons, flaws, who did what."""
    look = parts.look
    rows = [
        [at.window.label, _film(parts, at).name, parts.lot(at.window.id) or "not on record", _before(parts, at),
         _after(at)]
        for at in parts.filmed
    ]  # fmt: skip
    blocks: list[Block] = [
        Words(f"{counted(len(parts.filmed), 'window')} filmed", large=True)
        if parts.filmed
        else Words("No film", large=True),
        Rows(("Window", "Film", "Lot", "Light before", "Light after"), rows, (0.2, 0.26, 0.16, 0.19, 0.19)),
        *_heat(parts),
        Heading("What the law says of each window as it was read"),
        *_law(parts),
        *_flaws(parts),
        *_apart(parts),
        *_let_go(parts),
        Heading("Who did what"),
        *_who(parts),
        Words(INFORMS),
    ]
    if look.parts.job.note:
        blocks.insert(-1, Words(f"Note: {look.parts.job.note}"))
    return Sheet("Job record", parts.told, blocks)


def _after(at: LookedAt) -> str:
    if at.window.is_strip:
        return "strip" if at.fitted.deepest_mm is None else f"strip, {format_inches(at.fitted.deepest_mm)} in deep"
    return _percent(at.fitted.reading)


def _heat(parts: HandoverParts) -> list[Block]:
    """Kinds of film on this car, with what they do to heat, and the caution of metal near antennas."""
    films = [_film(parts, at) for at in parts.filmed]
    rows = [[one.name, one.kind, one.heat] for one in films_told(films, starting=parts.look.car.starting)]
    blocks: list[Block] = [Rows(("Film", "Kind", "Heat"), rows, (0.4, 0.2, 0.4))] if rows else []
    return [*blocks, Words(METAL, strong=True)] if has_metal(films) else blocks


def _law(parts: HandoverParts) -> list[Block]:
    rows = []
    for at in parts.filmed:
        verdicts = at.certified.verdicts or parts.look.car.shades[at.window.id].verdicts
        foretold = "" if at.certified.verdicts else " (as foretold, not read)"
        if not verdicts:
            rows.append([at.window.label, "not judged", "No law was asked."])
        for one in verdicts:
            doubt = " Not confirmed by this shop." if one.deciding else ""
            rows.append(
                [
                    at.window.label,
                    f"{one.law.code}: {one.word.value}{foretold}",
                    f"{one.sentence} {one.citation}.{doubt}",
                ]
            )
        if at.window.reason is not None and at.window.reason.film_id == at.window.film_id:
            rows.append([at.window.label, "Reason on file", reason_words(at.window.reason)])
    return [Rows(("Window", "Word", "Why, and source"), rows, (0.2, 0.24, 0.56))]


def _flaws(parts: HandoverParts) -> list[Block]:
    rows = []
    for at in parts.filmed:
        for one in at.flaws:
            if one.closed in ("gone", "redone"):
                continue
            how = f"accepted by {one.accepted_by}" if one.accepted_by else one.because or "within the shop’s standard"
            rows.append([at.window.label, parts.look.book.flaw(one.kind).words, how])
    return [Heading("What stays as it is"), Rows(("Window", "What", "Why"), rows, (0.22, 0.34, 0.44))] if rows else []


def _apart(parts: HandoverParts) -> list[Block]:
    rows = [[words, who] for words, who in parts.acknowledged]
    return [Heading("Acknowledged"), Rows(("What", "By"), rows, (0.7, 0.3))] if rows else []


def _let_go(parts: HandoverParts) -> list[Block]:
    rows = [[words, one.person] for words, one in parts.let_go]
    return [Heading("Left out"), Rows(("What, and why", "By"), rows, (0.7, 0.3))] if rows else []


def _who(parts: HandoverParts) -> list[Block]:
    rows = []
    for at in parts.filmed:
        mark = parts.look.parts.cuts.get(at.window.id)
        progress = parts.look.bay.runs.progress.get(at.window.id)
        done: dict[str, dict[str, None]] = {}
        for step in progress.run.steps if progress else ():
            tick = progress.ticks.get(step.key) if progress else None
            if tick is not None:
                done.setdefault(PHASE_WORDS[step.phase], {})[tick.person] = None
        people = "; ".join(f"{what}: {', '.join(who)}" for what, who in done.items())
        cut = f"cut {mark.on_day} by {mark.person} from {mark.roll}" if mark else "no cut on record"
        looked = "; ".join(f"looked over {one.at:%Y-%m-%d} by {one.person_name}" for one in at.looks.values())
        rows.append([at.window.label, "; ".join(one for one in (cut, people, looked) if one)])
    return [Rows(("Window", "What, by whom"), rows, (0.2, 0.8))]


def certificate_sheet(parts: HandoverParts) -> Sheet:
    """The certificate with the label for the glass; it speaks only of windows that were read."""
    blocks: list[Block] = []
    lawful = [at for at in parts.filmed if at.certified.wording is Wording.LAWFUL]
    within = [at for at in parts.filmed if at.certified.wording is Wording.WITHIN]
    states = ", ".join(parts.look.car.job.vehicle.states)
    if lawful:
        blocks += [
            Words(f"{len(lawful)} of {len(parts.filmed)} windows lawful in {states} as read", large=True),
            Rows(("Window", "Read", "Limit", "Law"), [_lawful(at) for at in lawful], (0.24, 0.14, 0.18, 0.44)),
        ]
    if within:
        blocks += [
            Heading("Under the limit, within what the law grants the meter"),
            Rows(("Window", "Read", "Limit", "Tolerance"), [_within(at) for at in within], (0.4, 0.2, 0.2, 0.2)),
        ]
    others = [at for at in parts.filmed if at.certified.wording is Wording.NONE]
    if others:
        blocks += [
            Heading("Not certified"),
            Rows(("Window", "Why"), [[at.window.label, at.certified.why] for at in others], (0.24, 0.76)),
        ]
    blocks += [
        *exemption_blocks(parts.look.car),
        *_stickers(parts),
        Words(f"Read on {_day(parts.day)}."),
        Words(INFORMS),
    ]
    return Sheet("Certificate of readings", parts.told, blocks)


def _limit(at: LookedAt) -> str:
    limit = at.certified.limit
    if at.window.is_strip:
        return "by its depth"
    return "none on file" if limit is None else f"{100 * limit:g} %"


def _lawful(at: LookedAt) -> list[str]:
    sources = "; ".join(f"{one.law.code}: {one.citation}" for one in at.certified.verdicts)
    doubt = any(one.deciding for one in at.certified.verdicts)
    read = _after(at) if at.window.is_strip else _percent(at.certified.reading)
    return [at.window.label, read, _limit(at), sources + (" (rule not confirmed by this shop)" if doubt else "")]


def _within(at: LookedAt) -> list[str]:
    points = at.certified.tolerance_points
    return [
        at.window.label, _percent(at.certified.reading), _limit(at), "" if points is None else f"{points:g} points"
    ]  # fmt: skip


def _stickers(parts: HandoverParts) -> list[Block]:
    """The label for the glass, and what each state asks for on a sticker."""
    law, vehicle = parts.look.car.law, parts.look.car.job.vehicle
    told: list[Block] = []
    for code in vehicle.states:
        row = law.of(code).row
        asks, note = str(row.get("sticker_or_label", "")), str(row.get("sticker_note", ""))
        doubt = " Not confirmed by this shop." if "sticker_or_label" in law.of(code).unconfirmed else ""
        told.append(Words(f"{code}, sticker or label: {asks or 'not on file'}. {note}{doubt}".strip()))
    lines = [parts.head.shop, *parts.head.lines]
    for at in parts.labelled:
        within = at.certified.wording is Wording.WITHIN
        limit = "" if at.certified.limit is None else f", limit {100 * at.certified.limit:g} %"
        read = _after(at) if at.window.is_strip else f"reads {_percent(at.certified.reading)}"
        tolerance = f", tolerance {at.certified.tolerance_points or 0:g} points" if within else ", lawful as read"
        lines.append(f"{at.window.label}: {read}{limit}{tolerance}")
    lines += [f"{', '.join(vehicle.states)} · {parts.day.isoformat()} · job {parts.owner.job.number}"]
    return [Heading("Label for the glass"), *told, Label(lines)]


NORMAL = (
    "A milky or smoky haze and small water pockets: water that dries away in the sun.",
    "The view is a little blurred for some days.",
    "Do not press on a bubble and do not lift an edge; call us.",
)


def care_sheet(parts: HandoverParts) -> Sheet:
    """The care card: until when windows stay up, what is normal, what harms."""
    frost = parts.look.bay.day.outside_low_c
    cold = "Nobody knew the forecast, so the longer time is given." if frost is None else "It dries slower in the cold."
    return Sheet(
        "Care card",
        parts.told,
        [
            Words(f"Windows stay up until {_day(parts.up_until)}", large=True),
            Words(f"That is {parts.cure_days} days from {_day(parts.day)}. {cold}"),
            Heading("Normal while it dries"),
            *(Words(one) for one in NORMAL),
            Heading("Until then"),
            Words("Windows up, no cleaning inside, nothing stuck onto the film."),
            Words(_band(parts)),
            Heading("Later"),
            Words("A soft cloth and mild soap. No ammonia, no vinegar cleaner, nothing that scratches."),
            Words("Stickers and suction cups pull film off. Old film comes off by a professional."),
            *([Words(METAL, strong=True)] if has_metal(_film(parts, at) for at in parts.filmed) else []),
        ],
    )


def _band(parts: HandoverParts) -> str:
    """The stricter of two schools: the whole band is held, not only no frost (handbook, section 14)."""
    starting = parts.look.car.starting
    low, high = (round(starting[name] * 9 / 5 + 32) for name in ("film_cold_c", "film_hot_c"))
    days = round(starting["cure_days"])
    return f"For the first {days} days keep the car between {low} and {high} °F, day and night: a garage in frost."


def warranty_sheet(parts: HandoverParts) -> Sheet:
    """The warranty with lots: what a maker's claim needs."""
    days = int(parts.look.car.starting["work_warranty_days"])
    rows = [
        [at.window.label, _film(parts, at).name, parts.lot(at.window.id), warranty_words(_film(parts, at))]
        for at in parts.filmed
    ]  # fmt: skip
    return Sheet(
        "Warranty",
        parts.told,
        [
            Words(f"We stand by our work for {days} days", large=True),
            Words(f"From {_day(parts.day)}."),
            Rows(("Window", "Film", "Lot", "Its maker promises"), rows, (0.24, 0.28, 0.2, 0.28)),
            Words("A maker’s warranty is void unless lot and car are on record: keep this paper."),
            Words("Not covered: windows lowered before the day on the care card, ammonia, what rubs or tears."),
        ],
    )


def acknowledged_sheet(parts: HandoverParts) -> Sheet:
    """What the customer acknowledged, with the signatures that were given."""
    rows = [[words, who] for words, who in parts.acknowledged]
    signed = [Signed(f"{one.name}, {one.at:%Y-%m-%d}", one.strokes) for one in parts.signatures if one.strokes]
    return Sheet(
        "Acknowledged", parts.told, [Rows(("What", "By"), rows, (0.7, 0.3)), *_last(signed)]
    )  # fmt: skip


def _last(signed: Sequence[Signed]) -> list[Signed]:
    return list(signed[-2:])


def invoice_sheet(parts: HandoverParts) -> Sheet:
    """The invoice, with the lines of the quote that was accepted."""
    counts = parts.quoted.counts
    assert counts is not None
    rows = [[one.words, dollars(one.cents)] for one in lines_of(counts)]
    rows.append(["To pay", dollars(counts.total_cents)])
    return Sheet(
        "Invoice",
        parts.told,
        [
            Words(f"{dollars(counts.total_cents)} to pay", large=True),
            Rows(("What", "Price"), rows, (0.78, 0.22), sums=1),
            Words(f"As accepted by {counts.accepted_by} with version {counts.number} of the quote."),
            Words(parts.day.isoformat()),
        ],
    )


def pictures_sheet(parts: HandoverParts, *, most: int) -> Sheet | None:
    """Pictures of the car for the customer's file; None where there are none."""
    labels = {window.id: window.label for window in parts.look.car.job.windows}
    blocks: list[Block] = []
    for one in photos_of(parts.session, parts.look.parts.job.id)[-most:]:
        try:
            content = content_of(parts.session, one)
        except MissingPictureError:
            continue
        blocks.append(Picture(content, f"{labels.get(one.window_id or '', 'The car')}, {one.at:%Y-%m-%d}"))
    return Sheet("Pictures", parts.told, blocks) if blocks else None
