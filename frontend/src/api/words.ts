// Made from the core's words by ./elumbra docs; not to be changed by hand.
export const WORDS = {
  "Position": {
    "windshield": "windshield",
    "front_side": "front side",
    "rear_side": "rear side",
    "rear_window": "rear window",
    "roof": "roof"
  },
  "Side": {
    "driver": "driver’s side",
    "passenger": "passenger’s side",
    "centre": "in the middle"
  },
  "WindowKind": {
    "framed_door": "framed door",
    "frameless_door": "frameless door",
    "quarter": "quarter or vent",
    "fixed_side": "fixed side",
    "back_glass": "back glass",
    "hatch": "hatch glass",
    "slider": "slider part",
    "windshield": "windshield",
    "sunroof": "sunroof"
  },
  "GlassType": {
    "tempered": "tempered",
    "laminated": "laminated",
    "coated": "coated",
    "plastic": "plastic: takes no film",
    "unknown": "not read yet"
  },
  "GlassSource": {
    "metered": "metered",
    "marked": "marked on the glass",
    "assumed": "assumed"
  },
  "Curve": {
    "flat": "flat",
    "one_way": "bowed one way",
    "both_ways": "curved both ways",
    "strong": "strongly curved"
  },
  "Level": {
    "size": "Size",
    "shape": "Shape",
    "curve": "Curve"
  },
  "Figure": {
    "four": "Four corners",
    "three": "Three",
    "five": "Five",
    "six": "Six",
    "seven": "Seven",
    "eight": "Eight",
    "drawn": "Drawn, from a file"
  },
  "TapeMode": {
    "surface": "Tape on the glass",
    "chord": "Straight chord"
  },
  "Coverage": {
    "full": "the whole pane",
    "strip": "a strip at the top"
  },
  "StripShape": {
    "straight": "Straight",
    "roof_line": "Roof line"
  },
  "CutMethod": {
    "bulk": "Bulk, either way round",
    "bulk_upright": "Bulk, upright on the glass",
    "bulk_sideways": "Bulk, the roll turned sideways",
    "pen": "Pen and board",
    "trim": "Trimmed in place",
    "plotter": "Plotter pattern",
    "kit": "Ready-cut kit",
    "home_sheet": "Home sheet"
  },
  "VehicleClass": {
    "passenger": "passenger car",
    "multipurpose": "multipurpose: SUV, van, truck"
  },
  "RegisteredAs": {
    "sedan": "sedan",
    "coupe": "coupe",
    "hatchback": "hatchback",
    "station_wagon": "station wagon",
    "hardtop": "hardtop",
    "convertible": "convertible",
    "suv": "SUV (multipurpose, suburban)",
    "minivan": "minivan",
    "van": "van",
    "pickup": "pickup",
    "truck": "truck",
    "bus": "bus",
    "limousine": "limousine",
    "motor_home": "motor home"
  },
  "ReasonKind": {
    "declined_film_changed": "We declined; a lawful film goes on",
    "medical_exemption": "Medical exemption",
    "rule_looked_up": "No rule on file: looked up, and nothing bars it",
    "glass_not_metered": "Glass not metered: cut all the same",
    "bare_glass_assumed": "Old film still on: the bare glass taken for granted",
    "off_road_or_show": "Off-road or show vehicle, owner’s statement"
  },
  "Station": {
    "survey": "Survey",
    "shade": "Shade",
    "strip_off": "Strip-off",
    "cut": "Cut",
    "heat": "Heat",
    "bay": "Bay",
    "look": "Look",
    "handover": "Handover",
    "quote": "Quote"
  },
  "Phase": {
    "protect": "protect",
    "outside_prep": "outside prep",
    "cut": "cut",
    "board": "on the board",
    "shrink": "shrink",
    "inside_prep": "inside prep",
    "last_rinse": "last rinse",
    "peel": "peel",
    "place": "place",
    "tack": "tack",
    "press": "press",
    "edges": "edges",
    "dry": "dry",
    "put_back": "put back",
    "first_look": "first look",
    "strip": "take off",
    "glue": "glue",
    "check": "check",
    "close": "close the car"
  },
  "SunSide": {
    "none": "no sun on the car",
    "driver": "on the driver’s side",
    "passenger": "on the passenger’s side",
    "back": "on the back glass"
  },
  "Way": {
    "heat": "heat and peel",
    "steam": "steam",
    "bag": "bag and sun",
    "soak": "soak overnight, then steam"
  },
  "Tool": {
    "gun": "heat gun",
    "steamer": "wallpaper steamer",
    "bag": "black plastic",
    "degreaser": "degreaser",
    "razor": "razor",
    "pad": "pad"
  },
  "Decision": {
    "keep": "Keep",
    "touch_up": "Touch up",
    "redo": "Redo"
  },
  "Wetness": {
    "wet": "still wet",
    "set": "set"
  },
  "Zone": {
    "view": "in view",
    "edge": "at the edge",
    "hidden": "hidden"
  },
  "Unit": {
    "window": "window",
    "car": "car"
  },
  "HuntSide": {
    "outside": "from outside",
    "inside": "from inside"
  },
  "Told": {
    "yes": "yes",
    "no": "no",
    "unknown": "unknown"
  },
  "Outcome": {
    "normal": "Normal: wait",
    "touch_up": "Touch up",
    "redo": "Redo",
    "show": "Look at it together"
  },
  "Bears": {
    "nobody": "nothing to pay",
    "shop": "our warranty on the work",
    "maker": "the film’s warranty",
    "owner": "a paid job",
    "unknown": "not known yet whose cost"
  },
  "Group": {
    "glass": "The glass",
    "on_it": "On it",
    "round_it": "Round it",
    "at_back": "At the back",
    "windshield": "Windshield",
    "car": "The car"
  },
  "ReadBy": {
    "survey": "Survey",
    "strip_off": "Strip-off",
    "shade": "Shade",
    "cut": "Cut",
    "heat": "Heat",
    "bay": "Bay",
    "look": "Look",
    "handover": "Handover"
  },
  "Construction": {
    "dyed": "dyed",
    "metal": "metal",
    "carbon": "carbon",
    "ceramic": "ceramic",
    "clear": "clear"
  },
  "Colour": {
    "colourless": "colourless",
    "grey": "grey, neutral, charcoal",
    "black": "black",
    "brown": "brown",
    "green": "green",
    "blue": "blue",
    "purple": "purple",
    "red": "red",
    "amber": "amber",
    "yellow": "yellow",
    "gold": "gold",
    "silver": "silver"
  },
  "VltBasis": {
    "on_3mm_clear": "on 3 mm clear glass",
    "film_alone": "film alone",
    "unknown": "not stated"
  },
  "Warranty": {
    "unknown": "not in the data",
    "none": "none",
    "years": "for some years",
    "lifetime": "lifetime"
  },
  "StockKind": {
    "roll": "roll",
    "offcut": "offcut",
    "sheet": "sheet"
  },
  "LinerSide": {
    "up": "liner up",
    "down": "film up, liner down",
    "unknown": "not checked"
  }
} as const;

export const READING_LABELS = {
  "width": "Greatest width",
  "height": "Greatest height",
  "bottom": "Bottom",
  "right": "Right side",
  "left": "Left side",
  "top_to_bottom": "Top corner to middle of bottom",
  "bow_bottom": "Bow of the bottom",
  "more_bottom": "To add at bottom",
  "less_bottom": "To take off at bottom",
  "bow_right": "Bow of the right side",
  "more_right": "To add at right side",
  "less_right": "To take off at right side",
  "bow_left": "Bow of the left side",
  "more_left": "To add at left side",
  "less_left": "To take off at left side",
  "radius_bottom_left": "Corner radius, bottom left",
  "radius_bottom_right": "Corner radius, bottom right",
  "radius_top": "Corner radius, top",
  "crown_across": "Across: gap, middle",
  "crown_across_left": "Across: gap, left end",
  "crown_across_right": "Across: gap, right end",
  "crown_across_chord": "Across: chord",
  "crown_up": "Up: gap, middle",
  "crown_up_foot": "Up: gap, lower end",
  "crown_up_head": "Up: gap, upper end",
  "crown_up_chord": "Up: chord",
  "widest_height": "Widest circle, above the foot",
  "crown_across_quarter_left": "Across: gap, left quarter",
  "crown_across_quarter_right": "Across: gap, right quarter",
  "crown_up_quarter_foot": "Up: gap, lower quarter",
  "crown_up_quarter_head": "Up: gap, upper quarter",
  "gap_low_left": "Low: left",
  "gap_low_mid": "Low: middle",
  "gap_low_right": "Low: right",
  "gap_mid_left": "Mid: left",
  "gap_mid_mid": "Mid: middle",
  "gap_mid_right": "Mid: right",
  "gap_high_left": "High: left",
  "gap_high_mid": "High: middle",
  "gap_high_right": "High: right",
  "rise_left": "Up, left: half height",
  "rise_mid": "Up, middle: half height",
  "rise_right": "Up, right: half height",
  "rise_left_low": "Up, left: low",
  "rise_mid_low": "Up, middle: low",
  "rise_right_low": "Up, right: low",
  "strip_depth": "Strip depth from the top",
  "as1_depth": "AS-1 line from the top",
  "strip_above_seat": "Strip’s edge above the seat",
  "housing_width": "Housing width",
  "housing_depth": "Housing depth",
  "top": "Top",
  "diagonal_rising": "Diagonal ↗",
  "diagonal_falling": "Diagonal ↘",
  "mid_width": "Width at mid-height",
  "mid_height": "Height at mid-width",
  "bottom_left_to_top": "Bottom left corner to middle of top",
  "bottom_left_to_right": "Bottom left corner to middle of right side",
  "bottom_right_to_top": "Bottom right corner to middle of top",
  "bottom_right_to_left": "Bottom right corner to middle of left side",
  "top_left_to_bottom": "Top left corner to middle of bottom",
  "top_left_to_right": "Top left corner to middle of right side",
  "top_right_to_bottom": "Top right corner to middle of bottom",
  "top_right_to_left": "Top right corner to middle of left side",
  "bow_top": "Bow of the top",
  "more_top": "To add at top",
  "less_top": "To take off at top",
  "radius_top_right": "Corner radius, top right",
  "radius_top_left": "Corner radius, top left",
  "side_1_2": "Side 1 to 2",
  "side_2_3": "Side 2 to 3",
  "side_3_4": "Side 3 to 4",
  "side_4_5": "Side 4 to 5",
  "side_5_1": "Side 5 to 1",
  "diagonal_1_3": "Diagonal 1 to 3",
  "diagonal_1_4": "Diagonal 1 to 4",
  "diagonal_2_5": "Diagonal 2 to 5",
  "diagonal_2_4": "Diagonal 2 to 4",
  "diagonal_3_5": "Diagonal 3 to 5",
  "bow_side_1_2": "Bow of the side 1 to 2",
  "more_side_1_2": "To add at side 1 to 2",
  "less_side_1_2": "To take off at side 1 to 2",
  "bow_side_2_3": "Bow of the side 2 to 3",
  "more_side_2_3": "To add at side 2 to 3",
  "less_side_2_3": "To take off at side 2 to 3",
  "bow_side_3_4": "Bow of the side 3 to 4",
  "more_side_3_4": "To add at side 3 to 4",
  "less_side_3_4": "To take off at side 3 to 4",
  "bow_side_4_5": "Bow of the side 4 to 5",
  "more_side_4_5": "To add at side 4 to 5",
  "less_side_4_5": "To take off at side 4 to 5",
  "bow_side_5_1": "Bow of the side 5 to 1",
  "more_side_5_1": "To add at side 5 to 1",
  "less_side_5_1": "To take off at side 5 to 1",
  "radius_corner_1": "Corner radius, corner 1",
  "radius_corner_2": "Corner radius, corner 2",
  "radius_corner_3": "Corner radius, corner 3",
  "radius_corner_4": "Corner radius, corner 4",
  "radius_corner_5": "Corner radius, corner 5",
  "side_5_6": "Side 5 to 6",
  "side_6_1": "Side 6 to 1",
  "diagonal_1_5": "Diagonal 1 to 5",
  "diagonal_2_6": "Diagonal 2 to 6",
  "diagonal_3_6": "Diagonal 3 to 6",
  "diagonal_4_6": "Diagonal 4 to 6",
  "bow_side_5_6": "Bow of the side 5 to 6",
  "more_side_5_6": "To add at side 5 to 6",
  "less_side_5_6": "To take off at side 5 to 6",
  "bow_side_6_1": "Bow of the side 6 to 1",
  "more_side_6_1": "To add at side 6 to 1",
  "less_side_6_1": "To take off at side 6 to 1",
  "radius_corner_6": "Corner radius, corner 6",
  "side_6_7": "Side 6 to 7",
  "side_7_1": "Side 7 to 1",
  "diagonal_1_6": "Diagonal 1 to 6",
  "diagonal_2_7": "Diagonal 2 to 7",
  "diagonal_3_7": "Diagonal 3 to 7",
  "diagonal_4_7": "Diagonal 4 to 7",
  "diagonal_5_7": "Diagonal 5 to 7",
  "bow_side_6_7": "Bow of the side 6 to 7",
  "more_side_6_7": "To add at side 6 to 7",
  "less_side_6_7": "To take off at side 6 to 7",
  "bow_side_7_1": "Bow of the side 7 to 1",
  "more_side_7_1": "To add at side 7 to 1",
  "less_side_7_1": "To take off at side 7 to 1",
  "radius_corner_7": "Corner radius, corner 7",
  "side_7_8": "Side 7 to 8",
  "side_8_1": "Side 8 to 1",
  "diagonal_1_7": "Diagonal 1 to 7",
  "diagonal_2_8": "Diagonal 2 to 8",
  "diagonal_3_8": "Diagonal 3 to 8",
  "diagonal_4_8": "Diagonal 4 to 8",
  "diagonal_5_8": "Diagonal 5 to 8",
  "diagonal_6_8": "Diagonal 6 to 8",
  "bow_side_7_8": "Bow of the side 7 to 8",
  "more_side_7_8": "To add at side 7 to 8",
  "less_side_7_8": "To take off at side 7 to 8",
  "bow_side_8_1": "Bow of the side 8 to 1",
  "more_side_8_1": "To add at side 8 to 1",
  "less_side_8_1": "To take off at side 8 to 1",
  "radius_corner_8": "Corner radius, corner 8"
} as const;

export const ASKED_FACTS = [
  {
    "name": "glass_type",
    "label": "Glass type",
    "field": "choice",
    "options": {
      "tempered": "tempered",
      "laminated": "laminated",
      "coated": "coated",
      "plastic": "plastic: takes no film",
      "unknown": "not read yet"
    }
  },
  {
    "name": "kind",
    "label": "Kind",
    "field": "choice",
    "options": {
      "framed_door": "framed door",
      "frameless_door": "frameless door",
      "quarter": "quarter or vent",
      "fixed_side": "fixed side",
      "back_glass": "back glass",
      "hatch": "hatch glass",
      "slider": "slider part",
      "windshield": "windshield",
      "sunroof": "sunroof"
    }
  },
  {
    "name": "position",
    "label": "Legal position",
    "field": "choice",
    "options": {
      "windshield": "windshield",
      "front_side": "front side",
      "rear_side": "rear side",
      "rear_window": "rear window",
      "roof": "roof"
    }
  },
  {
    "name": "factory_glass",
    "label": "Dark from the factory",
    "field": "yes_no_unknown",
    "unknown": "told by the meter"
  },
  {
    "name": "bare_vlt_source",
    "label": "Where from",
    "field": "choice",
    "options": {
      "metered": "metered",
      "marked": "marked on the glass",
      "assumed": "assumed"
    }
  },
  {
    "name": "coverage",
    "label": "Film covers",
    "field": "choice",
    "options": {
      "full": "the whole pane",
      "strip": "a strip at the top"
    }
  },
  {
    "name": "as1_mark",
    "label": "AS-1 line on the glass",
    "field": "yes_no_unknown",
    "unknown": "not looked at yet"
  },
  {
    "name": "old_film",
    "label": "Old film on it",
    "field": "check"
  },
  {
    "name": "old_film_stays",
    "label": "It stays on, new film over it",
    "field": "check"
  },
  {
    "name": "old_film_off",
    "label": "It is off now",
    "field": "check"
  },
  {
    "name": "strip_night",
    "label": "It may stay overnight",
    "field": "check"
  },
  {
    "name": "bare_vlt_through_old_film",
    "label": "The meter read through it",
    "field": "check"
  }
] as const;

export const WINDOW_FINDINGS = [
  {
    "name": "condition",
    "label": "Condition",
    "group": "glass",
    "how": "several",
    "options": {
      "sound": "sound",
      "pitted": "pitted outside",
      "oversprayed": "oversprayed outside",
      "chipped": "chipped",
      "cracked": "cracked",
      "scratched": "deeply scratched",
      "etched": "etched",
      "frosted": "frosted",
      "drilled": "drilled",
      "leaded": "leaded"
    }
  },
  {
    "name": "sticker",
    "label": "Sticker or toll tag",
    "group": "on_it",
    "how": "choice",
    "options": {
      "no": "none",
      "yes": "one or more",
      "keep": "must stay"
    }
  },
  {
    "name": "old_glue",
    "label": "Old glue",
    "group": "on_it",
    "how": "choice",
    "options": {
      "no": "no",
      "yes": "yes"
    }
  },
  {
    "name": "old_film_layers",
    "label": "Layers of old film seen",
    "group": "on_it",
    "how": "choice",
    "options": {
      "one": "one",
      "two": "two"
    }
  },
  {
    "name": "old_film_years",
    "label": "Years it has been on",
    "group": "on_it",
    "how": "number",
    "options": {}
  },
  {
    "name": "old_film_look",
    "label": "How it looks",
    "group": "on_it",
    "how": "several",
    "options": {
      "sound": "sound",
      "purple": "purple",
      "bubbled": "bubbled",
      "brittle": "brittle or dusty"
    }
  },
  {
    "name": "defroster",
    "label": "Defroster lines",
    "group": "on_it",
    "how": "choice",
    "options": {
      "no": "no",
      "yes": "yes"
    }
  },
  {
    "name": "defroster_first",
    "label": "First line, from the top",
    "group": "on_it",
    "how": "length",
    "options": {}
  },
  {
    "name": "defroster_pitch",
    "label": "From line to line",
    "group": "on_it",
    "how": "length",
    "options": {}
  },
  {
    "name": "defroster_lines",
    "label": "Number of lines",
    "group": "on_it",
    "how": "number",
    "options": {}
  },
  {
    "name": "antenna",
    "label": "Printed antenna",
    "group": "on_it",
    "how": "choice",
    "options": {
      "no": "no",
      "yes": "yes"
    }
  },
  {
    "name": "side_seals",
    "label": "Side seals",
    "group": "round_it",
    "how": "choice",
    "options": {
      "clean": "clean",
      "dirty": "dirty",
      "worn": "worn"
    }
  },
  {
    "name": "weather_strip",
    "label": "Weather strip",
    "group": "round_it",
    "how": "choice",
    "options": {
      "easy": "comes out easily",
      "tight": "tight",
      "leave": "leave it in"
    }
  },
  {
    "name": "edge",
    "label": "Edge of the glass",
    "group": "round_it",
    "how": "choice",
    "options": {
      "border": "dark border",
      "gasket": "plain rubber gasket",
      "bare": "bare"
    }
  },
  {
    "name": "gasket_pulls",
    "label": "Gasket pulls out whole",
    "group": "round_it",
    "how": "choice",
    "options": {
      "no": "no",
      "yes": "yes"
    }
  },
  {
    "name": "slider_part",
    "label": "This part of the slider",
    "group": "round_it",
    "how": "choice",
    "options": {
      "fixed": "is fixed",
      "slides": "slides"
    }
  },
  {
    "name": "border_top",
    "label": "Border, top",
    "group": "round_it",
    "how": "length",
    "options": {}
  },
  {
    "name": "border_bottom",
    "label": "Border, bottom",
    "group": "round_it",
    "how": "length",
    "options": {}
  },
  {
    "name": "border_left",
    "label": "Border, left",
    "group": "round_it",
    "how": "length",
    "options": {}
  },
  {
    "name": "border_right",
    "label": "Border, right",
    "group": "round_it",
    "how": "length",
    "options": {}
  },
  {
    "name": "room_behind_border",
    "label": "Room behind the border, inside",
    "group": "round_it",
    "how": "choice",
    "options": {
      "free": "free",
      "close": "trim sits close"
    }
  },
  {
    "name": "panel",
    "label": "Door panel",
    "group": "round_it",
    "how": "choice",
    "options": {
      "plain": "plain",
      "leather": "leather",
      "electronics": "electronics at its top",
      "rises": "rises beside the glass"
    }
  },
  {
    "name": "panel_cover",
    "label": "Panel cover wanted",
    "group": "round_it",
    "how": "choice",
    "options": {
      "no": "no",
      "yes": "yes"
    }
  },
  {
    "name": "rain_guard",
    "label": "Rain guard, how deep",
    "group": "round_it",
    "how": "length",
    "options": {}
  },
  {
    "name": "latch",
    "label": "Latch",
    "group": "round_it",
    "how": "choice",
    "options": {
      "hand": "trips by hand",
      "electric": "electric"
    }
  },
  {
    "name": "brake_light",
    "label": "Brake light",
    "group": "at_back",
    "how": "choice",
    "options": {
      "none": "none at this glass",
      "shines": "shines through the pane",
      "before": "fixed before the glass, room behind",
      "body": "on the body",
      "seen": "there, not looked at closely"
    }
  },
  {
    "name": "brake_light_width",
    "label": "Its box, width",
    "group": "at_back",
    "how": "length",
    "options": {}
  },
  {
    "name": "brake_light_height",
    "label": "Its box, height",
    "group": "at_back",
    "how": "length",
    "options": {}
  },
  {
    "name": "brake_light_from_top",
    "label": "Its box, from the top",
    "group": "at_back",
    "how": "length",
    "options": {}
  },
  {
    "name": "lens_clear",
    "label": "The lit lens stays clear",
    "group": "at_back",
    "how": "choice",
    "options": {
      "no": "no",
      "yes": "yes"
    }
  },
  {
    "name": "wiper",
    "label": "Rear wiper",
    "group": "at_back",
    "how": "choice",
    "options": {
      "none": "none",
      "off": "comes off",
      "rusted": "rusted: cut round it"
    }
  },
  {
    "name": "spindle_from_left",
    "label": "Spindle, from the left",
    "group": "at_back",
    "how": "length",
    "options": {}
  },
  {
    "name": "spindle_from_foot",
    "label": "Spindle, from the foot",
    "group": "at_back",
    "how": "length",
    "options": {}
  },
  {
    "name": "spoiler",
    "label": "Spoiler over the top border",
    "group": "at_back",
    "how": "length",
    "options": {}
  },
  {
    "name": "shelf_reach",
    "label": "Shelf or foot",
    "group": "at_back",
    "how": "choice",
    "options": {
      "easy": "easy to reach",
      "hard": "hard to reach"
    }
  },
  {
    "name": "automatic_hatch",
    "label": "Hatch moves by itself",
    "group": "at_back",
    "how": "choice",
    "options": {
      "no": "no",
      "yes": "yes"
    }
  },
  {
    "name": "housing",
    "label": "Camera or sensor housing",
    "group": "windshield",
    "how": "choice",
    "options": {
      "no": "no",
      "yes": "yes"
    }
  },
  {
    "name": "mirror_mount",
    "label": "Mirror",
    "group": "windshield",
    "how": "choice",
    "options": {
      "slides": "slides off",
      "clip": "old clip",
      "bonded": "bonded"
    }
  }
] as const;

export const CAR_FINDINGS = [
  {
    "name": "machine",
    "label": "What it is",
    "group": "car",
    "how": "choice",
    "options": {
      "car": "car or truck",
      "side_by_side": "off-road side-by-side"
    }
  },
  {
    "name": "age",
    "label": "How old",
    "group": "car",
    "how": "choice",
    "options": {
      "new": "brand new",
      "few": "a few years",
      "old": "old"
    }
  },
  {
    "name": "on_arrival",
    "label": "On arrival",
    "group": "car",
    "how": "several",
    "options": {
      "dry": "clean and dry",
      "wet": "wet",
      "dirty": "dirty"
    }
  },
  {
    "name": "to_move",
    "label": "To move",
    "group": "car",
    "how": "several",
    "options": {
      "headrests": "headrests",
      "child_seats": "child seats",
      "belongings": "belongings"
    }
  },
  {
    "name": "power",
    "label": "Power",
    "group": "car",
    "how": "choice",
    "options": {
      "sound": "battery sound",
      "weak": "battery weak",
      "accessory": "accessory power only"
    }
  },
  {
    "name": "order",
    "label": "Order",
    "group": "car",
    "how": "choice",
    "options": {
      "open": "not confirmed yet",
      "confirmed": "confirmed with the customer"
    }
  },
  {
    "name": "wishes",
    "label": "Wishes",
    "group": "car",
    "how": "text",
    "options": {}
  }
] as const;

export const VERDICT_WORDS = [
  "Not allowed",
  "Too dark",
  "Cannot tell",
  "No rule on file",
  "Within tolerance",
  "Close",
  "Clears"
] as const;
