"""Findings round the glass, at the back of the car and at the windshield."""

from __future__ import annotations

from elumbra.core.glass import DOORS, WindowKind
from elumbra.core.survey.findings import Field, Finding, Group, ReadBy
from elumbra.core.survey.helps import BACK, FIXED, HATCH, WINDSHIELD, YES_NO, then

ROUND_GLASS = (
    # --- round it
    Finding(
        name="side_seals",
        lasting=False,
        label="Side seals",
        group=Group.ROUND_IT,
        options={"clean": "clean", "dirty": "dirty", "worn": "worn"},
        kinds=DOORS | {WindowKind.SLIDER},
        follows={
            "dirty": then(
                "Clean the sides with a wrapped card until the cloth stays clean",
                ReadBy.BAY,
                "10",
                minutes=3,
                tool="wrapped card",
            ),
            "worn": then("Tape the sides", ReadBy.BAY, "10", minutes=4, tool="tape for side seals"),
        },
    ),
    Finding(
        name="weather_strip",
        label="Weather strip",
        group=Group.ROUND_IT,
        options={"easy": "comes out easily", "tight": "tight", "leave": "leave it in"},
        kinds=DOORS,
        follows={
            "easy": then(
                "Take it out: the door is much easier; note it, put it back",
                ReadBy.BAY,
                "10",
                minutes=5,
                tool="trim lever",
            ),
            "tight": then(
                "Take it out with care, rear clip last; note it, put it back",
                ReadBy.BAY,
                "10",
                minutes=12,
                tool="trim lever",
                caution="Airbags and wiring: follow the vehicle maker.",
            ),
        },
    ),
    Finding(
        name="edge",
        label="Edge of the glass",
        group=Group.ROUND_IT,
        options={"border": "dark border", "gasket": "plain rubber gasket", "bare": "bare"},
        kinds=FIXED,
        follows={
            "gasket": then(
                "Cut to the gasket and tuck; trim a sliver of rubber if it will not",
                ReadBy.CUT,
                "5",
                minutes=8,
                tool="gasket tool",
            )
        },
    ),
    Finding(
        name="gasket_pulls",
        label="Gasket pulls out whole",
        group=Group.ROUND_IT,
        options=YES_NO,
        kinds=FIXED,
        under=("edge", ("gasket",)),
        follows={"yes": then("Pull it out: time is saved; note it, put it back", ReadBy.BAY, "11", minutes=4)},
    ),
    Finding(
        name="slider_part",
        label="This part of the slider",
        group=Group.ROUND_IT,
        options={"fixed": "is fixed", "slides": "slides"},
        kinds=frozenset({WindowKind.SLIDER}),
        follows={"slides": then("Shut it to trace, open it a hand to clean its edge", ReadBy.BAY, "11", minutes=2)},
    ),
    *(
        Finding(
            name=f"border_{edge}",
            label=f"Border, {edge}",
            group=Group.ROUND_IT,
            how=Field.LENGTH,
            kinds=FIXED,
            under=("edge", ("border",)),
        )
        for edge in ("top", "bottom", "left", "right")
    ),
    Finding(
        name="room_behind_border",
        label="Room behind the border, inside",
        group=Group.ROUND_IT,
        options={"free": "free", "close": "trim sits close"},
        kinds=FIXED,
        under=("edge", ("border",)),
        follows={"close": then("Cut tighter onto the border where the trim sits close", ReadBy.CUT, "5", minutes=3)},
    ),
    Finding(
        name="panel",
        label="Door panel",
        group=Group.ROUND_IT,
        options={
            "plain": "plain",
            "leather": "leather",
            "electronics": "electronics at its top",
            "rises": "rises beside the glass",
        },
        kinds=DOORS,
        follows={
            "leather": then(
                "Cover it: water under the edges distorts leather",
                ReadBy.BAY,
                "10 and 17",
                minutes=2,
                tool="door-panel cover",
            ),
            "electronics": then(
                "Cover it and dry at once", ReadBy.BAY, "10 and 17", minutes=2, tool="door-panel cover"
            ),
            "rises": then(
                "Keep the gasket tool off the panel", ReadBy.BAY, "10", minutes=2, caution="A gasket tool gouges it."
            ),
        },
    ),
    Finding(
        name="panel_cover",
        lasting=False,
        label="Panel cover wanted",
        group=Group.ROUND_IT,
        options=YES_NO,
        kinds=DOORS,
        follows={"yes": then("Cover the panel", ReadBy.BAY, "17", minutes=2, tool="door-panel cover")},
    ),
    Finding(
        name="rain_guard",
        lasting=False,
        label="Rain guard, how deep",
        group=Group.ROUND_IT,
        how=Field.LENGTH,
        kinds=DOORS,
        follows={
            "": then("Lower the glass further to cut the top, park the piece lower", ReadBy.CUT, "5 and 6", minutes=2)
        },
    ),
    Finding(
        name="latch",
        label="Latch",
        group=Group.ROUND_IT,
        options={"hand": "trips by hand", "electric": "electric"},
        kinds=DOORS,
        follows={
            "hand": then("Trip it: silences the chime, keeps frameless glass up", ReadBy.BAY, "10"),
            "electric": then("Keep it from dropping the glass; mind the battery", ReadBy.BAY, "10", minutes=2),
        },
    ),
    # --- at the back
    Finding(
        name="brake_light",
        label="Brake light",
        group=Group.AT_BACK,
        options={
            "none": "none at this glass",
            "shines": "shines through the pane",
            "before": "fixed before the glass, room behind",
            "body": "on the body",
            "seen": "there, not looked at closely",
        },
        kinds=BACK,
        follows={
            "shines": then(
                "Its box is cut out of the film",
                ReadBy.CUT,
                "9 and 17",
                minutes=5,
                caution="Never film over a brake light.",
            ),
            "before": then("The film slides behind it", ReadBy.BAY, "11", minutes=6, tool="thin wide reach tool"),
            "seen": then("Look closer: does it shine through the pane?", ReadBy.SURVEY, "17"),
        },
    ),
    *(
        Finding(
            name=f"brake_light_{key}",
            label=words,
            group=Group.AT_BACK,
            how=Field.LENGTH,
            kinds=BACK,
            under=("brake_light", ("shines", "before")),
        )
        for key, words in (
            ("width", "Its box, width"),
            ("height", "Its box, height"),
            ("from_top", "Its box, from the top"),
        )
    ),
    Finding(
        name="lens_clear",
        label="The lit lens stays clear",
        group=Group.AT_BACK,
        options=YES_NO,
        kinds=BACK,
        under=("brake_light", ("before",)),
        follows={
            "no": then(
                "Its box is cut out of the film after all",
                ReadBy.CUT,
                "17",
                minutes=5,
                caution="Never film over a brake light.",
            )
        },
    ),
    Finding(
        name="wiper",
        label="Rear wiper",
        group=Group.AT_BACK,
        options={"none": "none", "off": "comes off", "rusted": "rusted: cut round it"},
        kinds=BACK,
        follows={
            "off": then(
                "Take the arm off, put it back after",
                ReadBy.BAY,
                "10",
                minutes=3,
                tool="7 and 10 mm sockets, arm puller",
            ),
            "rusted": then("Cut round the spindle", ReadBy.CUT, "10", minutes=6),
        },
    ),
    Finding(
        name="spindle_from_left",
        label="Spindle, from the left",
        group=Group.AT_BACK,
        how=Field.LENGTH,
        kinds=BACK,
        under=("wiper", ("off", "rusted")),
    ),
    Finding(
        name="spindle_from_foot",
        label="Spindle, from the foot",
        group=Group.AT_BACK,
        how=Field.LENGTH,
        kinds=BACK,
        under=("wiper", ("off", "rusted")),
    ),
    Finding(
        name="spoiler",
        label="Spoiler over the top border",
        group=Group.AT_BACK,
        how=Field.LENGTH,
        kinds=BACK,
        follows={"": then("Cut the top by feel, or mark, lower and cut", ReadBy.CUT, "6", minutes=5)},
    ),
    Finding(
        name="shelf_reach",
        label="Shelf or foot",
        group=Group.AT_BACK,
        options={"easy": "easy to reach", "hard": "hard to reach"},
        kinds=frozenset({WindowKind.BACK_GLASS, WindowKind.SLIDER}),
        follows={
            "hard": then(
                "Reach tool for the foot; pad for knees and back", ReadBy.BAY, "3 and 11", minutes=8, tool="reach tool"
            )
        },
    ),
    Finding(
        name="automatic_hatch",
        label="Hatch moves by itself",
        group=Group.AT_BACK,
        options=YES_NO,
        kinds=HATCH,
        follows={
            "yes": then(
                "Switch it off while film is wet",
                ReadBy.BAY,
                "11 and 16",
                minutes=1,
                caution="It closes on hands, and on wet film.",
            )
        },
    ),
    # --- windshield
    Finding(
        name="housing",
        label="Camera or sensor housing",
        group=Group.WINDSHIELD,
        options=YES_NO,
        kinds=WINDSHIELD,
        follows={"yes": then("No film over it: its box is read for the strip", ReadBy.CUT, "9", minutes=5)},
    ),
    Finding(
        name="mirror_mount",
        label="Mirror",
        group=Group.WINDSHIELD,
        options={"slides": "slides off", "clip": "old clip", "bonded": "bonded"},
        kinds=WINDSHIELD,
        follows={
            "slides": then("Take it off, put it back after", ReadBy.BAY, "11", minutes=3),
            "clip": then(
                "Leave it unless you know the clip",
                ReadBy.BAY,
                "11",
                minutes=6,
                caution="A forced clip pulls glass out.",
            ),
            "bonded": then("Work round it", ReadBy.BAY, "11", minutes=6),
        },
    ),
)
