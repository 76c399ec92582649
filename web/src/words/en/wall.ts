export const wall = {
  outName: "out",
  pickTag: "✓ pick",
  take: (count: number) => `Take ${count}`,
  wall: "Wall",
  atATime: "At a time",
  takesAtATime: "Takes at a time",
  previousTake: "Previous take",
  nextTake: "Next take",
  bringBack: (gone: number) => `Bring ${gone} back`,
  theSweepTip: "Zoom to the sweep",
  theSweep: "The sweep",
  backToTheDesk: "Back to the desk",
  leaveAsShot: "Leave as shot",
  picked: "Picked",
  pick: (name: string) => `Pick ${name}`,
  hung: (name: string, picked: boolean, out: boolean) =>
    `${name}${picked ? ", the pick" : ""}${out ? ", out" : ""}`,
};
