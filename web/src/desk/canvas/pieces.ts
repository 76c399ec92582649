import type { PieceSize } from "../../api/client";
import type { Area, Placing } from "./shapes";

/** How long after a failure the pieces are asked for again, ms: twice as long each time, up to the last. */
const RETRY_MS = [500, 1000, 2000, 4000, 8000];
const pause = (ms: number) => new Promise<void>((done) => setTimeout(done, ms));

type Labels = { width: number; height: number; numbers: Uint32Array };

/** The picture cut into pieces: which one lies under a point, and what some of them look like. */
export class Pieces {
  private labels: Labels | null = null;
  private size: PieceSize | null = null;
  private stains = new Map<number, { canvas: HTMLCanvasElement; box: Area }>();

  constructor(
    private picture: { id: number; width: number; height: number },
    private onReady: () => void,
  ) {}

  /** Fetch the pieces of a size, once. */
  async show(size: PieceSize) {
    if (this.size === size) return;
    this.size = size;
    this.labels = null;
    this.stains.clear();
    const data = await this.fetched(size);
    if (!data || this.size !== size) return;
    const image = await createImageBitmap(data, {
      colorSpaceConversion: "none",
      premultiplyAlpha: "none",
    });
    const canvas = new OffscreenCanvas(image.width, image.height);
    const ctx = canvas.getContext("2d", { willReadFrequently: true });
    if (!ctx || this.size !== size) return;
    ctx.drawImage(image, 0, 0);
    const bytes = ctx.getImageData(0, 0, image.width, image.height).data;
    const numbers = new Uint32Array(image.width * image.height);
    for (let i = 0; i < numbers.length; i++) {
      numbers[i] = (bytes[4 * i] ?? 0) | ((bytes[4 * i + 1] ?? 0) << 8) | ((bytes[4 * i + 2] ?? 0) << 16);
    }
    this.labels = { width: image.width, height: image.height, numbers };
    this.onReady();
  }

  /** The pieces as the server has them; null once another size is wanted, or when they cannot be had: the next show asks
   * again. */
  private async fetched(size: PieceSize): Promise<Blob | null> {
    for (const wait of RETRY_MS) {
      const answer = await fetch(`/api/frames/${this.picture.id}/pieces/${size}`).catch(() => null);
      if (answer?.ok) return answer.blob();
      await pause(wait);
      if (this.size !== size) return null;
    }
    this.size = null;
    return null;
  }

  get ready(): boolean {
    return this.labels !== null;
  }

  /** The number of the piece at a place of the picture, in its pixels; null outside. */
  at(x: number, y: number): number | null {
    if (!this.labels) return null;
    const { width, height, numbers } = this.labels;
    const column = Math.floor((x / this.picture.width) * width);
    const row = Math.floor((y / this.picture.height) * height);
    if (column < 0 || row < 0 || column >= width || row >= height) return null;
    return numbers[row * width + column] ?? null;
  }

  /** Draw some pieces as the brush would take them. */
  paint(ctx: CanvasRenderingContext2D, chosen: Iterable<number>, at: Placing, colour: string) {
    if (!this.labels) return;
    const across = (this.picture.width / this.labels.width) * at.scale;
    const down = (this.picture.height / this.labels.height) * at.scale;
    ctx.globalAlpha = 0.6;
    for (const piece of chosen) {
      const { canvas, box } = this.stain(piece, colour);
      ctx.drawImage(
        canvas,
        at.x + box.x * across,
        at.y + box.y * down,
        box.width * across,
        box.height * down,
      );
    }
    ctx.globalAlpha = 1;
  }

  private stain(piece: number, colour: string) {
    const known = this.stains.get(piece);
    if (known) return known;
    const { width, height, numbers } = this.labels as Labels;
    let [left, top, right, bottom] = [width, height, 0, 0];
    for (let i = 0; i < numbers.length; i++) {
      if (numbers[i] !== piece) continue;
      const [x, y] = [i % width, Math.floor(i / width)];
      left = Math.min(left, x);
      right = Math.max(right, x + 1);
      top = Math.min(top, y);
      bottom = Math.max(bottom, y + 1);
    }
    const box = { x: left, y: top, width: Math.max(right - left, 1), height: Math.max(bottom - top, 1) };
    const canvas = document.createElement("canvas");
    canvas.width = box.width;
    canvas.height = box.height;
    const ctx = canvas.getContext("2d");
    if (ctx) {
      ctx.fillStyle = colour;
      for (let y = 0; y < box.height; y++) {
        for (let x = 0; x < box.width; x++) {
          if (numbers[(y + top) * width + x + left] === piece) ctx.fillRect(x, y, 1, 1);
        }
      }
    }
    const made = { canvas, box };
    this.stains.set(piece, made);
    return made;
  }
}
