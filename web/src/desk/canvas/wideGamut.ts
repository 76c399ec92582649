import OpenSeadragon from "openseadragon";
import { COLOURS, WIDE } from "../../api/screen";

/** What the library does not say of itself in its types. */
type Inner = {
  converter: {
    learn: (
      from: string,
      to: string,
      how: (tile: unknown, image: HTMLImageElement) => unknown,
      power: number,
      more: number,
    ) => void;
  };
};
type Elements = { _createDrawingElement(): HTMLCanvasElement };

/** The library's canvas, in as many colours as the screen has: whoever asks for a context first says of which colours it is. */
class WideDrawer extends (OpenSeadragon.CanvasDrawer as unknown as new (options: object) => Elements) {
  override _createDrawingElement() {
    const canvas = super._createDrawingElement();
    canvas.getContext("2d", COLOURS);
    return canvas;
  }
}

if (WIDE)
  (OpenSeadragon as unknown as Inner).converter.learn(
    "image",
    "context2d",
    (_, image) => {
      const canvas = document.createElement("canvas");
      canvas.width = image.width;
      canvas.height = image.height;
      const context = canvas.getContext("2d", COLOURS);
      context?.drawImage(image, 0, 0);
      return context;
    },
    1,
    2,
  );

/** What draws tiles here. On a screen of wide gamut their canvases are of its colours too: one of sRGB would clip them. */
export const DRAWER = (WIDE ? WideDrawer : "canvas") as unknown as OpenSeadragon.Options["drawer"];
