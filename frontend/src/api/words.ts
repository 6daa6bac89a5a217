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
    "shape": "Shape"
  },
  "Figure": {
    "four": "Four corners",
    "three": "Three"
  },
  "TapeMode": {
    "surface": "Tape on the glass",
    "chord": "Straight chord"
  },
  "Coverage": {
    "full": "the whole pane",
    "strip": "a strip at the top"
  },
  "Feature": {
    "antenna": "antenna in it",
    "defroster": "defroster lines",
    "camera": "camera or sensor",
    "brake_light": "brake light",
    "chip": "chipped or pitted"
  },
  "StripShape": {
    "straight": "Straight",
    "roof_line": "Roof line"
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
    "off_road_or_show": "Off-road or show vehicle, owner’s statement"
  },
  "Station": {
    "survey": "Survey",
    "shade": "Shade",
    "cut": "Cut"
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
  "top": "Top",
  "left": "Left side",
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
  "bow_bottom": "Bow of the bottom",
  "bow_right": "Bow of the right side",
  "bow_top": "Bow of the top",
  "bow_left": "Bow of the left side",
  "radius_bottom_left": "Corner radius, bottom left",
  "radius_bottom_right": "Corner radius, bottom right",
  "radius_top_right": "Corner radius, top right",
  "radius_top_left": "Corner radius, top left",
  "crown_across": "Crown across, gap at mid-width",
  "crown_up": "Crown up, gap at mid-height",
  "strip_depth": "Strip depth from the top",
  "as1_depth": "AS-1 line from the top",
  "strip_above_seat": "Strip’s edge above the seat",
  "housing_width": "Housing width",
  "housing_depth": "Housing depth",
  "top_to_bottom": "Top corner to middle of bottom",
  "radius_top": "Corner radius, top"
} as const;

export const ASKED_FACTS = [
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
    "name": "coverage",
    "label": "Film covers",
    "field": "choice",
    "options": {
      "full": "the whole pane",
      "strip": "a strip at the top"
    }
  },
  {
    "name": "features",
    "label": "In or at this glass",
    "field": "several",
    "options": {
      "antenna": "antenna in it",
      "defroster": "defroster lines",
      "camera": "camera or sensor",
      "brake_light": "brake light",
      "chip": "chipped or pitted"
    }
  },
  {
    "name": "factory_glass",
    "label": "Dark from the factory",
    "field": "yes_no_unknown",
    "unknown": "told by the meter"
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
    "name": "bare_vlt_through_old_film",
    "label": "The meter read through it",
    "field": "check"
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
