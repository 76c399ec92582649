import OpenSeadragon from "openseadragon";
import { Camera } from "./camera";
import { Looks } from "./looks";
import type { Picture } from "./picture";
import { DRAWER } from "./wideGamut";

/** The deep-zoom view of one picture: the library's viewer, what it shows, and where. */
export class PictureViewer {
  readonly osd: OpenSeadragon.Viewer;
  readonly looks: Looks;
  readonly camera: Camera;
  /** The place of the picture that the pointer is over, in its pixels. */
  pointed: [number, number] | null = null;

  constructor(element: HTMLElement, picture: Picture, onChange: () => void) {
    this.osd = new OpenSeadragon.Viewer({
      element,
      drawer: DRAWER,
      showNavigationControl: false,
      showSequenceControl: false,
      animationTime: 0.2,
      springStiffness: 12,
      blendTime: 0,
      alwaysBlend: false,
      immediateRender: true,
      minZoomImageRatio: 0.1,
      maxZoomPixelRatio: 16,
      visibilityRatio: 0.3,
      zoomPerScroll: 1.25,
      imageLoaderLimit: 16,
      maxImageCacheCount: 600,
      keyboardNavEnabled: false,
      // A room that grows shows more, at the same size.
      preserveImageSizeOnResize: true,
      gestureSettingsMouse: { clickToZoom: false, dblClickToZoom: false },
      gestureSettingsPen: { clickToZoom: false, dblClickToZoom: false },
      gestureSettingsTouch: { clickToZoom: false, dblClickToZoom: false },
    } as OpenSeadragon.Options);
    this.camera = new Camera(this.osd, picture);
    this.looks = new Looks(this.osd, picture, this.camera);
    const changed = () => {
      this.looks.cut();
      const smooth = this.camera.zoom() < 0.99;
      this.osd.drawer?.setImageSmoothingEnabled(smooth);
      onChange();
    };
    for (const event of ["animation", "open", "resize", "update-viewport", "animation-finish"] as const) {
      this.osd.addHandler(event, changed);
    }
  }

  /** Do something as soon as there is a picture. */
  whenOpen(does: () => void) {
    if (this.osd.world.getItemCount()) does();
    else this.osd.world.addOnceHandler("add-item", () => setTimeout(does));
  }

  destroy() {
    this.osd.destroy();
  }
}
