export const doing = {
  seemsFlipped: "This mask covers most of the picture. White marks what is removed. Is it black on white?",
  sweepDeleted: (name: string) => `${name} is deleted.`,
  findDropped: "The find is dropped.",
  markCleared: (name: string) => `The mark of ${name} is cleared.`,
  guardCleared: "The guard is cleared.",
  laidAgain: (count: number) => `${count === 1 ? "One fill was" : `${count} fills were`} laid again.`,
  filledAnew: (count: number) => `${count === 1 ? "One sweep is" : `${count} sweeps are`} filled anew.`,
  letGo: "What is out of step is let go.",
  dismissed: (count: number) => `${count === 1 ? "The snag is" : `${count} snags are`} not listed again.`,
  touchesDeleted: (count: number) => `${count === 1 ? "The touch-up is" : `${count} touch-ups are`} deleted.`,
};
