import { createSystem, defaultConfig, defineConfig } from "@chakra-ui/react";

// Quiet, flat and matte: the picture is the only thing with colour, but for one accent.
const config = defineConfig({
  globalCss: {
    "html, body, #root": { height: "100%" },
    body: { bg: "panel", color: "ink", fontSize: "14px", lineHeight: 1.35 },
    // What is pointed at is large enough for a finger (WCAG 2.2, 2.5.8).
    summary: { minH: "24px" },
    "input[type=checkbox], input[type=radio]": { w: "18px", h: "18px", flexShrink: 0 },
    "*": {
      "@media (prefers-reduced-motion: reduce)": {
        animationDuration: "0s !important",
        transitionDuration: "0s !important",
      },
    },
    "*:focus-visible": { outline: "2px solid #1b1b1a", outlineOffset: "2px" },
  },
  theme: {
    tokens: {
      fonts: {
        body: { value: "'Atkinson Hyperlegible', sans-serif" },
        heading: { value: "'Atkinson Hyperlegible', sans-serif" },
      },
      colors: {
        ink: { value: "#1b1b1a" },
        soft: { value: "#50504c" },
        panel: { value: "#e5e5e2" },
        sheet: { value: "#f4f4f2" },
        line: { value: "#c3c3be" },
        marigold: { value: "#f2a71b" },
        alarm: { value: "#8f1d14" },
      },
    },
  },
});

export const system = createSystem(defaultConfig, config);
