"""Words for what can be chosen, measured and found: screens and papers take theirs from here.

The front end's copy is generated (``./elumbra docs``).
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import fields
from enum import StrEnum
from types import MappingProxyType, NoneType
from typing import Any, get_args, get_type_hints

from elumbra.core.bay import PHASE_WORDS, Phase, SunSide
from elumbra.core.cut import WAYS, CutMethod, StripShape
from elumbra.core.film import Colour, Construction, FilmFacts, LinerSide, StockKind, VltBasis, Warranty
from elumbra.core.glass import Curve, GlassType, Position, Side, WindowKind
from elumbra.core.inspection import Bears, Decision, HuntSide, Outcome, Told, Unit, Wetness, Zone
from elumbra.core.law import RegisteredAs, VehicleClass
from elumbra.core.light import GlassSource
from elumbra.core.measure import Figure, Level, TapeMode, known_keys, short_label
from elumbra.core.removal import Tool, Way
from elumbra.core.survey import Finding, Group, ReadBy
from elumbra.core.work import Coverage, ReasonKind, Station, WindowFacts

WORDS: Mapping[type[StrEnum], Mapping[StrEnum, str]] = MappingProxyType(
    {
        Position: {
            Position.WINDSHIELD: "windshield",
            Position.FRONT_SIDE: "front side",
            Position.REAR_SIDE: "rear side",
            Position.REAR_WINDOW: "rear window",
            Position.ROOF: "roof",
        },
        Side: {Side.DRIVER: "driver’s side", Side.PASSENGER: "passenger’s side", Side.CENTRE: "in the middle"},
        WindowKind: {
            WindowKind.FRAMED_DOOR: "framed door",
            WindowKind.FRAMELESS_DOOR: "frameless door",
            WindowKind.QUARTER: "quarter or vent",
            WindowKind.FIXED_SIDE: "fixed side",
            WindowKind.BACK_GLASS: "back glass",
            WindowKind.HATCH: "hatch glass",
            WindowKind.SLIDER: "slider part",
            WindowKind.WINDSHIELD: "windshield",
            WindowKind.SUNROOF: "sunroof",
        },
        GlassType: {
            GlassType.TEMPERED: "tempered",
            GlassType.LAMINATED: "laminated",
            GlassType.COATED: "coated",
            GlassType.PLASTIC: "plastic: takes no film",
            GlassType.UNKNOWN: "not read yet",
        },
        GlassSource: {
            GlassSource.METERED: "metered",
            GlassSource.MARKED: "marked on the glass",
            GlassSource.ASSUMED: "assumed",
        },
        Curve: {
            Curve.FLAT: "flat",
            Curve.ONE_WAY: "bowed one way",
            Curve.BOTH_WAYS: "curved both ways",
            Curve.STRONG: "strongly curved",
        },
        Level: {Level.SIZE: "Size", Level.SHAPE: "Shape", Level.CURVE: "Curve"},
        Figure: {
            Figure.FOUR: "Four corners",
            Figure.THREE: "Three",
            Figure.FIVE: "Five",
            Figure.SIX: "Six",
            Figure.SEVEN: "Seven",
            Figure.EIGHT: "Eight",
            Figure.DRAWN: "Drawn, from a file",
        },
        TapeMode: {TapeMode.SURFACE: "Tape on the glass", TapeMode.CHORD: "Straight chord"},
        Coverage: {Coverage.FULL: "the whole pane", Coverage.STRIP: "a strip at the top"},
        StripShape: {StripShape.STRAIGHT: "Straight", StripShape.ROOF_LINE: "Roof line"},
        CutMethod: {method: f"{way.words[0].upper()}{way.words[1:]}" for method, way in WAYS.items()},
        VehicleClass: {
            VehicleClass.PASSENGER: "passenger car",
            VehicleClass.MULTIPURPOSE: "multipurpose: SUV, van, truck",
        },
        RegisteredAs: {
            RegisteredAs.SEDAN: "sedan",
            RegisteredAs.COUPE: "coupe",
            RegisteredAs.HATCHBACK: "hatchback",
            RegisteredAs.STATION_WAGON: "station wagon",
            RegisteredAs.HARDTOP: "hardtop",
            RegisteredAs.CONVERTIBLE: "convertible",
            RegisteredAs.SUV: "SUV (multipurpose, suburban)",
            RegisteredAs.MINIVAN: "minivan",
            RegisteredAs.VAN: "van",
            RegisteredAs.PICKUP: "pickup",
            RegisteredAs.TRUCK: "truck",
            RegisteredAs.BUS: "bus",
            RegisteredAs.LIMOUSINE: "limousine",
            RegisteredAs.MOTOR_HOME: "motor home",
        },
        ReasonKind: {
            ReasonKind.DECLINED_FILM_CHANGED: "We declined; a lawful film goes on",
            ReasonKind.MEDICAL_EXEMPTION: "Medical exemption",
            ReasonKind.RULE_LOOKED_UP: "No rule on file: looked up, and nothing bars it",
            ReasonKind.GLASS_NOT_METERED: "Glass not metered: cut all the same",
            ReasonKind.BARE_GLASS_ASSUMED: "Old film still on: the bare glass taken for granted",
            ReasonKind.OFF_ROAD_OR_SHOW: "Off-road or show vehicle, owner’s statement",
        },
        Station: {
            Station.SURVEY: "Survey",
            Station.SHADE: "Shade",
            Station.STRIP_OFF: "Strip-off",
            Station.CUT: "Cut",
            Station.HEAT: "Heat",
            Station.BAY: "Bay",
            Station.LOOK: "Look",
            Station.HANDOVER: "Handover",
            Station.QUOTE: "Quote",
        },
        Phase: {phase: PHASE_WORDS[phase] for phase in Phase},
        SunSide: {
            SunSide.NONE: "no sun on the car",
            SunSide.DRIVER: "on the driver’s side",
            SunSide.PASSENGER: "on the passenger’s side",
            SunSide.BACK: "on the back glass",
        },
        Way: {
            Way.HEAT: "heat and peel",
            Way.STEAM: "steam",
            Way.BAG: "bag and sun",
            Way.SOAK: "soak overnight, then steam",
        },
        Tool: {
            Tool.GUN: "heat gun",
            Tool.STEAMER: "wallpaper steamer",
            Tool.BAG: "black plastic",
            Tool.DEGREASER: "degreaser",
            Tool.RAZOR: "razor",
            Tool.PAD: "pad",
        },
        Decision: {Decision.KEEP: "Keep", Decision.TOUCH_UP: "Touch up", Decision.REDO: "Redo"},
        Wetness: {Wetness.WET: "still wet", Wetness.SET: "set"},
        Zone: {Zone.VIEW: "in view", Zone.EDGE: "at the edge", Zone.HIDDEN: "hidden"},
        Unit: {Unit.WINDOW: "window", Unit.CAR: "car"},
        HuntSide: {HuntSide.OUTSIDE: "from outside", HuntSide.INSIDE: "from inside"},
        Told: {Told.YES: "yes", Told.NO: "no", Told.UNKNOWN: "unknown"},
        Outcome: {
            Outcome.NORMAL: "Normal: wait",
            Outcome.TOUCH_UP: "Touch up",
            Outcome.REDO: "Redo",
            Outcome.SHOW: "Look at it together",
        },
        Bears: {
            Bears.NOBODY: "nothing to pay",
            Bears.SHOP: "our warranty on the work",
            Bears.MAKER: "the film’s warranty",
            Bears.OWNER: "a paid job",
            Bears.UNKNOWN: "not known yet whose cost",
        },
        Group: {
            Group.GLASS: "The glass",
            Group.ON_IT: "On it",
            Group.ROUND_IT: "Round it",
            Group.AT_BACK: "At the back",
            Group.WINDSHIELD: "Windshield",
            Group.CAR: "The car",
        },
        ReadBy: {
            ReadBy.SURVEY: "Survey",
            ReadBy.STRIP_OFF: "Strip-off",
            ReadBy.SHADE: "Shade",
            ReadBy.CUT: "Cut",
            ReadBy.HEAT: "Heat",
            ReadBy.BAY: "Bay",
            ReadBy.LOOK: "Look",
            ReadBy.HANDOVER: "Handover",
        },
        Construction: {one: one.value for one in Construction},
        Colour: {one: "grey, neutral, charcoal" if one is Colour.GREY else one.value for one in Colour},
        VltBasis: {
            VltBasis.ON_3MM_CLEAR: "on 3 mm clear glass",
            VltBasis.FILM_ALONE: "film alone",
            VltBasis.UNKNOWN: "not stated",
        },
        Warranty: {
            Warranty.UNKNOWN: "not in the data",
            Warranty.NONE: "none",
            Warranty.YEARS: "for some years",
            Warranty.LIFETIME: "lifetime",
        },
        StockKind: {one: one.value for one in StockKind},
        LinerSide: {
            LinerSide.UP: "liner up",
            LinerSide.DOWN: "film up, liner down",
            LinerSide.UNKNOWN: "not checked",
        },
    }
)

FACT_LABELS: Mapping[str, str] = MappingProxyType(
    {
        "bare_vlt_percent": "bare glass VLT",
        "bare_readings_percent": "readings of the bare glass",
        "side": "side of the car",
        "strip_shape": "strip's lower edge",
        "strip_pieces": "pieces of the strip",
    }
)
"""Facts that have a place of their own on the screens, as sentences name them."""


def counted(number: int, one: str) -> str:
    """A number of things, in words.

    Examples
    --------
    >>> counted(1, "car"), counted(0, "window")
    ('1 car', '0 windows')
    """
    return f"{number} {one}" if number == 1 else f"{number} {one}s"


def reading_labels() -> dict[str, str]:
    """Every reading that a pane can have, as it stands at the head of its field."""
    return {key: short_label(key) for figure in Figure for key in known_keys(figure)}


def fact_label(name: str) -> str:
    """What a fact of a window is called in a sentence.

    Examples
    --------
    >>> fact_label("glass_type"), fact_label("bare_vlt_percent")
    ('glass type', 'bare glass VLT')
    """
    for one in fields(WindowFacts):
        if one.name == name and one.metadata["label"]:
            label = str(one.metadata["label"])
            return label if label[1:2].isupper() else label[0].lower() + label[1:]
    return FACT_LABELS.get(name, name.replace("_", " "))


def asked_specs() -> list[dict[str, Any]]:
    """For each fact that a window is asked for: label, kind of field, and what can be chosen."""
    hints = get_type_hints(WindowFacts)
    specs = []
    for one in fields(WindowFacts):
        if not one.metadata["label"]:
            continue
        spec: dict[str, Any] = {"name": one.name, "label": one.metadata["label"]}
        specs.append(spec | _field_of(hints[one.name], one.metadata["unknown"]))
    return specs


def _field_of(hint: Any, unknown: str) -> dict[str, Any]:
    inner = [part for part in get_args(hint) if part is not NoneType] or [hint]
    if inner[0] is bool:
        return {"field": "yes_no_unknown", "unknown": unknown} if NoneType in get_args(hint) else {"field": "check"}
    if get_args(hint) and get_args(hint)[-1] is Ellipsis:
        return {"field": "several", "options": _options(inner[0])}
    return {"field": "choice", "options": _options(inner[0])}


def _options(choice: type[StrEnum]) -> dict[str, str]:
    return {one.value: words for one, words in WORDS[choice].items()}


def finding_specs(table: Mapping[str, Finding]) -> list[dict[str, Any]]:
    """For each finding that is answered at the survey: label, where one looks, kind of field, choices."""
    return [
        {
            "name": one.name,
            "label": one.label,
            "group": one.group.value,
            "how": one.how.value,
            "options": dict(one.options),
        }
        for one in table.values()
        if not one.of_fact
    ]


def film_fact_names() -> list[str]:
    """Every fact of a film's sheet."""
    return [one.name for one in fields(FilmFacts)]
