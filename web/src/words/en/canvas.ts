export const canvas = {
  picture: "Picture: paint here to mark what goes. Arrows move the brush, Enter puts it down and lifts it",
  nothingMarked: "Nothing is marked yet.",
  brushAt: (isDown: boolean, x: number, y: number) => `Brush ${isDown ? "down" : "up"} at ${x}, ${y}`,
};
