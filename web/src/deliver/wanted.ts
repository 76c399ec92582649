import type { FileKind, Frame, Wanted } from "../api/client";

export const LIKE_THE_ORIGINAL: Wanted = {
  kind: "same",
  longest: 2048,
  quality: 88,
  sharpen: true,
  ledger: true,
  masks: false,
  pattern: "{name}-swept",
};

/** The kinds of files in the order of the list, each by its name. */
export const KINDS: [FileKind, string][] = [
  ["same", "Like the original"],
  ["jpeg", "JPEG"],
  ["png", "PNG"],
  ["tiff", "TIFF"],
  ["web", "For the web"],
  ["ora", "Layered, OpenRaster"],
  ["layers", "Layered, TIFF of pages"],
];

const PLAIN = "the file as it came where nothing was done";

/** What a kind of file is for some frames, in a line. */
export function about(kind: FileKind, frames: Pick<Frame, "format" | "depth">[], wanted: Wanted): string {
  const formats = new Set(frames.map((frame) => frame.format));
  const deep = frames.some((frame) => frame.depth === 16);
  switch (kind) {
    case "same": {
      if (formats.size > 1) return "Each in the format it came in";
      const [format] = formats;
      if (format === "jpeg") return "JPEG: outside the sweeps coded as it was, without loss";
      if (format === "png" || format === "tiff") return `${format.toUpperCase()}, ${PLAIN}`;
      return format === "webp" ? "PNG, packed without loss" : "TIFF, packed without loss";
    }
    case "jpeg":
      return deep ? "8 bit: the 16 bit of the original are rounded" : "8 bit";
    case "png":
    case "tiff":
      return `${deep ? 16 : 8} bit, packed without loss`;
    case "web":
      return `JPEG in sRGB, ${wanted.longest} px at most`;
    case "ora":
      return "As shot below, each sweep a layer above; opens in painting programs";
    case "layers":
      return "The same as pages of one file";
  }
}

/** A wish as a query. */
export function query(wanted: Wanted, more: [string, string | number][] = []): string {
  const all = [...Object.entries(wanted), ...more].map(([name, value]) => [name, String(value)]);
  return new URLSearchParams(all as [string, string][]).toString();
}
