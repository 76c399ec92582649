export const controls = {
  key: (keys: string) => `Key: ${keys}`,
  inUnit: (label: string, unit: string) => `${label} in ${unit}`,
  slide: (label: string) => `${label}, slide`,
  folded: "folded",
  pixels: (count: number) => `${count} pixels`,
  foldedTip: "Double-click or press Enter to show it again",
  dividerTip: "Drag to resize. Double-click or press Enter to hide",
};
