import type { FileKind, Frame, Wanted } from "../api/client";
import * as words from "../words/words";

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
  ["same", words.deliver.same],
  ["jpeg", "JPEG"],
  ["png", "PNG"],
  ["tiff", "TIFF"],
  ["web", words.deliver.forTheWeb],
  ["ora", words.deliver.openRaster],
  ["layers", words.deliver.tiffOfPages],
];

const PLAIN = words.deliver.asItCame;

/** What a kind of file is for some frames, in a line. */
export function about(kind: FileKind, frames: Pick<Frame, "format" | "depth">[], wanted: Wanted): string {
  const formats = new Set(frames.map((frame) => frame.format));
  const deep = frames.some((frame) => frame.depth === 16);
  switch (kind) {
    case "same": {
      if (formats.size > 1) return words.deliver.eachAsItCame;
      const [format] = formats;
      if (format === "jpeg") return words.deliver.jpegAsItCame;
      if (format === "png" || format === "tiff") return `${format.toUpperCase()}, ${PLAIN}`;
      return format === "webp" ? words.deliver.pngLossless : words.deliver.tiffLossless;
    }
    case "jpeg":
      return deep ? words.deliver.rounded : words.deliver.eightBit;
    case "png":
    case "tiff":
      return words.deliver.bitLossless(deep ? 16 : 8);
    case "web":
      return words.deliver.webJpeg(wanted.longest);
    case "ora":
      return words.deliver.openRasterSays;
    case "layers":
      return words.deliver.tiffOfPagesSays;
  }
}

/** A wish as a query. */
export function query(wanted: Wanted, more: [string, string | number][] = []): string {
  const all = [...Object.entries(wanted), ...more].map(([name, value]) => [name, String(value)]);
  return new URLSearchParams(all as [string, string][]).toString();
}
