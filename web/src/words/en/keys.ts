/** Keys, by what stands on them. */
export const keys = {
  space: "Space",
  enter: "Enter",
  pageUp: "Page Up",
  pageDown: "Page Down",
  ctrlEnter: "Ctrl Enter",
  shiftEnter: "Shift Enter",
  shiftJ: "Shift J",
  shiftU: "Shift U",
  shiftA: "Shift A",
  shiftR: "Shift R",
  shiftX: "Shift X",
  shiftL: "Shift L",
  ctrlShiftEnter: "Ctrl Shift Enter",
  ctrlZ: "Ctrl Z",
  ctrlShiftZ: "Ctrl Shift Z",
  held: (key: string) => `${key} held`,
};
