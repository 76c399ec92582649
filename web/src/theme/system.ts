import { createSystem, defaultBaseConfig, defineConfig } from "@chakra-ui/react";
import {
  animationStyles,
  breakpoints,
  buttonRecipe,
  dialogSlotRecipe,
  globalCss,
  headingRecipe,
  inputRecipe,
  keyframes,
  layerStyles,
  nativeSelectSlotRecipe,
  semanticTokens,
  sliderSlotRecipe,
  tableSlotRecipe,
  tabsSlotRecipe,
  textStyles,
  tokens,
  tooltipSlotRecipe,
} from "@chakra-ui/react/theme";
import { SMALL } from "./small";

const AT_SMALL = `@media ${SMALL}`;

/** A colour, and what it is where the surround of the picture is dark. */
const colour = (base: string, _inTheDark = base) => ({ value: { base, _inTheDark } });

// Of Chakra's own theme what is used here: the looks of all its parts are a third of what a first page loads.
// A part that is used for the first time needs its recipe here.
const borrowed = defineConfig({
  preflight: true,
  cssVarsPrefix: "chakra",
  cssVarsRoot: ":where(html, .chakra-theme)",
  globalCss,
  theme: {
    animationStyles,
    breakpoints,
    keyframes,
    layerStyles,
    semanticTokens,
    textStyles,
    tokens,
    recipes: { button: buttonRecipe, heading: headingRecipe, input: inputRecipe },
    slotRecipes: {
      dialog: dialogSlotRecipe,
      nativeSelect: nativeSelectSlotRecipe,
      slider: sliderSlotRecipe,
      table: tableSlotRecipe,
      tabs: tabsSlotRecipe,
      tooltip: tooltipSlotRecipe,
    },
  },
});

// Quiet, flat and matte: the picture is the only thing with colour, but for one accent.
const config = defineConfig({
  globalCss: {
    "html, body, #root": { height: "100%" },
    // Both: a page that is longer than the window would end white.
    "html, body": { bg: "panel" },
    body: { color: "ink", fontSize: "14px", lineHeight: 1.35 },
    "td, th": { borderColor: "line !important" },
    // What is pointed at is large enough for a finger (WCAG 2.2, 2.5.8).
    summary: { minH: "24px" },
    "input[type=checkbox], input[type=radio]": { w: "18px", h: "18px", flexShrink: 0 },
    "*": {
      "@media (prefers-reduced-motion: reduce)": {
        animationDuration: "0s !important",
        transitionDuration: "0s !important",
      },
    },
    "*:focus-visible": { outline: "2px solid", outlineColor: "ink", outlineOffset: "2px" },
    // In a small window controls move closer, so that bars keep to one row and the picture keeps its room.
    "header[data-tight], [role=toolbar]": {
      [AT_SMALL]: { columnGap: "4px !important", minH: "40px !important" },
    },
    "header[data-tight] button, [role=toolbar] button": {
      [AT_SMALL]: { px: "6px !important", fontSize: "13px !important" },
    },
    "header[data-tight] kbd, [role=toolbar] kbd": { [AT_SMALL]: { display: "none" } },
    "html[data-surround=dark]": { colorScheme: "dark" },
  },
  // Round a dark picture everything is dark.
  conditions: { inTheDark: "&[data-surround=dark]" },
  theme: {
    tokens: {
      fonts: {
        body: { value: "'Atkinson Hyperlegible', sans-serif" },
        heading: { value: "'Atkinson Hyperlegible', sans-serif" },
      },
    },
    semanticTokens: {
      colors: {
        ink: colour("#1b1b1a", "#ececea"),
        soft: colour("#50504c", "#b8b8b2"),
        panel: colour("#e5e5e2", "#272726"),
        sheet: colour("#f4f4f2", "#32322f"),
        raised: colour("#ffffff", "#3e3e3b"),
        line: colour("#c3c3be", "#4b4b48"),
        edge: colour("#8a8a84", "#8d8d87"),
        blank: colour("#d3d3cf", "#3a3a37"),
        marigold: colour("#f2a71b"),
        onMarigold: colour("#1b1b1a"),
        heart: colour("#8a5a00", "#f2a71b"),
        alarm: colour("#8f1d14", "#ff9b8c"),
        alarmed: colour("#fbe9e7", "#4a2622"),
        // What the library's own parts are drawn with follows the surround as everything else does.
        border: { DEFAULT: { value: "{colors.edge}" } },
        fg: { muted: { value: "{colors.soft}" }, subtle: { value: "{colors.soft}" } },
      },
    },
  },
});

export const system = createSystem(defaultBaseConfig, borrowed, config);
