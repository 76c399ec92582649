/** The words of this program that stand for something of its own, in the order in which a newcomer meets them. */
export const glossary = {
  shoot: ["Shoot", "The pictures of one job."],
  frame: ["Frame", "One picture of a shoot. Its file is never changed."],
  sweep: ["Sweep", "One removal: a mask, how to fill it, and the takes made of it."],
  guard: ["Guard", "An area that must stay. No mask enters it and no fill changes it."],
  scout: ["Scout", "An automatic search for people, things, wires, specks or a backdrop's edge."],
  find: ["Find", "Something that a scout found. Tick it to remove it, or drop it."],
  take: ["Take", "One candidate fill of a sweep. Takes are never thrown away."],
  provisional: [
    "Provisional",
    "The take that is shown until you pick one. The next fill builds on it, and it is delivered.",
  ],
  pick: ["Pick", "The take that you chose."],
  snag: ["Snag", "A visible fault that the second look found in a fill."],
  wall: ["Wall", "All takes of a sweep side by side, large."],
  strip: ["Strip", "The frames of a shoot in a row, to carry sweeps over to them."],
  ledger: ["Ledger", "The list of everything that was changed in a picture, and how."],
} as const;
