import type { Model } from "../api/client";

/** What each kind of model is. */
export const KINDS: Record<Model["kind"], string> = {
  onnx: "ONNX file",
  diffusers: "folder in the diffusers format",
  service: "generation service",
};

export const PLACES: Record<Model["kind"], string> = {
  onnx: "/path/to/model.onnx",
  diffusers: "/path/to/folder",
  service: "https://…",
};
