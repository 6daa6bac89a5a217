"""Findings of the glass itself and of what is on it."""

from __future__ import annotations

from elumbra.core.survey.findings import Field, Finding, Group, ReadBy
from elumbra.core.survey.helps import BACK, YES_NO, no_film, then

ON_GLASS = (
    # --- the glass itself
    Finding(
        name="glass_type",
        label="Maker’s mark",
        group=Group.GLASS,
        of_fact=True,
        follows={
            "tempered": then("Razor allowed with care, nearly flat", ReadBy.BAY, "3", tool="single-edge razor"),
            "laminated": then(
                "Pad only, never a razor; heat with care",
                ReadBy.BAY,
                "3",
                tool="white pad",
                caution="Hot spots crack it.",
            ),
            "coated": then("Pad only, never a razor", ReadBy.BAY, "3", tool="white pad"),
            "plastic": no_film("Plastic takes no film"),
        },
    ),
    Finding(
        name="condition",
        lasting=False,
        label="Condition",
        group=Group.GLASS,
        how=Field.SEVERAL,
        options={
            "sound": "sound",
            "pitted": "pitted outside",
            "oversprayed": "oversprayed outside",
            "chipped": "chipped",
            "cracked": "cracked",
            "scratched": "deeply scratched",
            "etched": "etched",
            "frosted": "frosted",
            "drilled": "drilled",
            "leaded": "leaded",
        },
        follows={
            "pitted": then(
                "Shrink and card through a rag, or grit tears the film", ReadBy.HEAT, "3 and 8", tool="rag", minutes=5
            ),
            "oversprayed": then(
                "Shrink and card through a rag, or grit tears the film", ReadBy.HEAT, "3 and 8", tool="rag", minutes=5
            ),
            "chipped": then(
                "Keep heat off the chip; tell the owner first",
                ReadBy.HEAT,
                "8 and 18",
                caution="Eye cover: chipped glass breaks under heat.",
            ),
            "cracked": no_film("No film on cracked glass"),
            "scratched": no_film("No film on deeply scratched glass"),
            "etched": no_film("No film on etched glass"),
            "frosted": no_film("No film on frosted glass"),
            "drilled": no_film("No film on drilled glass"),
            "leaded": no_film("No film on leaded glass"),
        },
    ),
    # --- on it
    Finding(
        name="sticker",
        lasting=False,
        label="Sticker or toll tag",
        group=Group.ON_IT,
        options={"no": "none", "yes": "one or more", "keep": "must stay"},
        follows={
            "yes": then(
                "Feel for its edges with a razor; scrape, fold it glue-in", ReadBy.BAY, "10", tool="razor", minutes=4
            ),
            "keep": then("Cut round what must stay; show the owner", ReadBy.CUT, "4", minutes=4),
        },
    ),
    Finding(
        name="old_glue",
        lasting=False,
        label="Old glue",
        group=Group.ON_IT,
        options=YES_NO,
        follows={
            "yes": then(
                "All glue must go: each bit left becomes a bump",
                ReadBy.STRIP_OFF,
                "13",
                minutes=30,
                tool="degreaser, razor",
                caution="Gloves, shade, no flame.",
            )
        },
    ),
    Finding(
        name="old_film_layers",
        lasting=False,
        label="Layers of old film seen",
        group=Group.ON_IT,
        options={"one": "one", "two": "two"},
        under=("old_film", ("yes",)),
        follows={
            "two": then(
                "Catch both layers at the corner, or the thin glued one stays", ReadBy.STRIP_OFF, "13", minutes=10
            )
        },
    ),
    Finding(
        name="old_film_years",
        lasting=False,
        label="Years it has been on",
        group=Group.ON_IT,
        how=Field.NUMBER,
        under=("old_film", ("yes",)),
        follows={
            "over 7": then("Over about seven years it is brittle: soak overnight and steam", ReadBy.STRIP_OFF, "13")
        },
    ),
    Finding(
        name="old_film_look",
        lasting=False,
        label="How it looks",
        group=Group.ON_IT,
        how=Field.SEVERAL,
        options={"sound": "sound", "purple": "purple", "bubbled": "bubbled", "brittle": "brittle or dusty"},
        under=("old_film", ("yes",)),
        follows={
            "purple": then("Poor film: it goes to bits as it comes off", ReadBy.STRIP_OFF, "3 and 13", minutes=10),
            "bubbled": then("Poor film: its glue stays behind", ReadBy.STRIP_OFF, "13", minutes=10),
            "brittle": then(
                "May not come off in one; soak overnight",
                ReadBy.STRIP_OFF,
                "13",
                minutes=20,
                caution="Defroster lines can lift: tell the customer first, in writing.",
            ),
        },
    ),
    Finding(
        name="defroster",
        label="Defroster lines",
        group=Group.ON_IT,
        options=YES_NO,
        kinds=BACK,
        follows={
            "yes": then(
                "Pad only, never a razor on the lines",
                ReadBy.BAY,
                "2 and 13",
                tool="white pad",
                caution="A razor ends them for good.",
            )
        },
    ),
    Finding(
        name="defroster_first",
        label="First line, from the top",
        group=Group.ON_IT,
        how=Field.LENGTH,
        kinds=BACK,
        under=("defroster", ("yes",)),
        follows={"": then("Strips overlap on a line", ReadBy.CUT, "5")},
    ),
    Finding(
        name="defroster_pitch",
        label="From line to line",
        group=Group.ON_IT,
        how=Field.LENGTH,
        kinds=BACK,
        under=("defroster", ("yes",)),
    ),
    Finding(
        name="defroster_lines",
        label="Number of lines",
        group=Group.ON_IT,
        how=Field.NUMBER,
        kinds=BACK,
        under=("defroster", ("yes",)),
    ),
    Finding(
        name="antenna",
        label="Printed antenna",
        group=Group.ON_IT,
        options=YES_NO,
        follows={"yes": then("No razor on it; metal film disturbs it", ReadBy.SHADE, "3 and 13", tool="white pad")},
    ),
)
