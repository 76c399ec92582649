export const doing = {
  seemsFlipped: "This mask covers most of the picture. White marks what is removed. Is it black on white?",
  sweepDeleted: (name: string) => `${name} deleted.`,
  findDropped: "Find dropped.",
  markCleared: (name: string) => `Mark of ${name} cleared.`,
  guardCleared: "Guard cleared.",
  laidAgain: (count: number) => `${count === 1 ? "One fill" : `${count} fills`} laid again.`,
  filledAnew: (count: number) => `Filling ${count === 1 ? "one sweep" : `${count} sweeps`} again.`,
  letGo: "The fills that were out of step are discarded.",
  dismissed: (count: number) => `${count === 1 ? "Snag" : `${count} snags`} dismissed.`,
  touchesDeleted: (count: number) => `${count === 1 ? "Touch-up" : `${count} touch-ups`} deleted.`,
};
