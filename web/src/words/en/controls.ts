export const controls = {
  key: (keys: string) => `Key: ${keys}`,
  inUnit: (label: string, unit: string) => `${label} in ${unit}`,
  slide: (label: string) => `${label}, slide`,
  folded: "folded",
  pixels: (count: number) => `${count} pixels`,
  foldedTip: "Two clicks or Enter bring it back",
  dividerTip: "Drag for more room. Two clicks or Enter fold it away",
};
