export const canvas = {
  picture: "Picture. Paint what to remove. Arrow keys move the brush, Enter starts and ends a stroke",
  nothingMarked: "Nothing is marked yet.",
  brushAt: (isDown: boolean, x: number, y: number) => `Brush ${isDown ? "down" : "up"} at ${x}, ${y}`,
};
