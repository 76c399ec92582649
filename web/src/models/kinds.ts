import type { Model } from "../api/client";
import * as words from "../words/words";

/** What each kind of model is. */
export const KINDS: Record<Model["kind"], string> = {
  onnx: words.models.onnx,
  diffusers: words.models.diffusers,
  service: words.models.service,
};

export const PLACES: Record<Model["kind"], string> = {
  onnx: words.models.onnxPlace,
  diffusers: words.models.folderPlace,
  service: words.models.servicePlace,
};
