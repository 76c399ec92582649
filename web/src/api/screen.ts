/** Whether this screen shows the colours of Display P3, which has more of them than sRGB. */
export const WIDE = typeof matchMedia === "function" && matchMedia("(color-gamut: p3)").matches;

/** How canvases are made whose colours are to be as many as the screen's. */
export const COLOURS: CanvasRenderingContext2DSettings | undefined = WIDE
  ? { colorSpace: "display-p3" }
  : undefined;
