import type { Schemas } from "../../api/client";

export type Role = Schemas["PersonCreate"]["role"];
export type Skill = Schemas["Skill"];

export const ROLES: Record<Role, string> = {
  owner: "owner: people, doors, copies",
  lead: "lead: waste, redo, legality",
  installer: "installer",
  learner: "learner: books no waste, overrules nothing",
  counter: "counter: quotes, books, hands over",
};

export const SKILLS: Record<Skill, string> = {
  prep: "Prepare and clean",
  cut: "Cut",
  shrink: "Shrink",
  shrink_curved: "Shrink strongly curved glass",
  film: "Lay film",
  strip: "Take old film off",
  look: "Last look",
};
