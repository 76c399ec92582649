/** A drawing that is kept until what it shows changes: a stroke must not draw all the other marks again. */
export class Still {
  private canvas = document.createElement("canvas");
  private key = "";
  private names = new WeakMap<object, number>();
  private count = 0;

  /** A name for an object, the same as long as it lives. */
  name(thing: object): number {
    const known = this.names.get(thing) ?? ++this.count;
    this.names.set(thing, known);
    return known;
  }

  /** Put the drawing of a key onto a canvas of the same size; it is made first if the key is another than before. */
  put(ctx: CanvasRenderingContext2D, key: string, draw: (ctx: CanvasRenderingContext2D) => void) {
    const { width, height } = ctx.canvas;
    if (!width || !height) return;
    const whole = `${width} ${height} ${key}`;
    if (whole !== this.key) {
      this.canvas.width = width;
      this.canvas.height = height;
      const own = this.canvas.getContext("2d");
      if (!own) return;
      draw(own);
      this.key = whole;
    }
    ctx.drawImage(this.canvas, 0, 0);
  }
}
