/**
 * The look as Chakra tokens: paper, ink and ruled lines, by day and by night. Components use these
 * names and never a raw colour; the band's canvas reads the same CSS variables (ink.ts).
 */
import { createSystem, defaultConfig, defineConfig, defineRecipe } from "@chakra-ui/react";

/** Day, night. */
const PALETTE = {
  paper: ["#F3F0E8", "#15181A"],
  sheet: ["#FBFAF5", "#1C2023"],
  rule: ["#D9D3C5", "#33393D"],
  ink: ["#20272B", "#E8E3D7"],
  softInk: ["#5C6264", "#9AA09F"],
  petrol: ["#0E5A63", "#5FB3BC"],
  onPetrol: ["#FBFAF5", "#15181A"],
  brick: ["#A4372A", "#E5806F"],
  ochre: ["#8F6200", "#D9A944"],
  plum: ["#6B4778", "#B795C6"],
  /** Surround of pictures: neutral, never tinted, the same by day and night. */
  surround: ["#6E6E6E", "#3A3A3A"],
  onSurround: ["#FFFFFF", "#F0F0F0"],
} as const;

/** A colour with its day and its night. */
const themed = (name: keyof typeof PALETTE) => ({
  value: { _light: PALETTE[name][0], _dark: PALETTE[name][1] },
});
/** Chakra's own names for a colour of ours. */
const alias = (name: string) => ({ value: `{colors.${name}}` });

/** Square, as on a form; what acts is filled, what may be done is outlined, what leads on is underlined. */
const button = defineRecipe({
  base: {
    borderRadius: "0",
    fontWeight: "600",
    _focusVisible: { outline: "2px solid", outlineColor: "petrol", outlineOffset: "2px" },
  },
  variants: {
    variant: {
      solid: { bg: "petrol", color: "onPetrol", _hover: { bg: "petrol", opacity: 0.88 } },
      outline: {
        bg: "sheet",
        color: "petrol",
        borderColor: "rule",
        _hover: { bg: "paper", borderColor: "petrol" },
      },
      // An action in the running text: underlined, as on paper.
      plain: {
        bg: "transparent",
        color: "petrol",
        textDecoration: "underline",
        textUnderlineOffset: "3px",
        fontWeight: "400",
        px: "1",
        h: "auto",
        minW: "0",
        _hover: { bg: "transparent", textDecorationThickness: "2px" },
      },
    },
  },
});

/** Handed to Chakra once, above all pages. */
export const system = createSystem(
  defaultConfig,
  defineConfig({
    globalCss: {
      html: { colorPalette: "petrolScale", bg: "paper" },
      body: { bg: "paper", color: "ink", fontFamily: "body", fontSize: "sm", lineHeight: "1.4" },
      ".figures": { fontVariantNumeric: "tabular-nums" },
      // Buttons and other things that mean nothing on paper.
      ".on-screen": { "@media print": { display: "none !important" } },
      // What is printed is that part, and not the page around it.
      "body:has(.printed-alone) *": { "@media print": { visibility: "hidden" } },
      "body:has(.printed-alone) .printed-alone, body:has(.printed-alone) .printed-alone *": {
        "@media print": { visibility: "visible" },
      },
      ".printed-alone": { "@media print": { position: "absolute", top: 0, left: 0, right: 0 } },
      // What scrolls shows that it does: a rule of shade at the end where there is more, and none where it
      // ends.
      ".scrolls": {
        backgroundImage: `linear-gradient(var(--chakra-colors-sheet) 30%, transparent),
          linear-gradient(transparent, var(--chakra-colors-sheet) 70%),
          radial-gradient(farthest-side at 50% 0, var(--chakra-colors-rule), transparent),
          radial-gradient(farthest-side at 50% 100%, var(--chakra-colors-rule), transparent)`,
        backgroundPosition: "0 0, 0 100%, 0 0, 0 100%",
        backgroundRepeat: "no-repeat",
        backgroundSize: "100% 36px, 100% 36px, 100% 14px, 100% 14px",
        backgroundAttachment: "local, local, scroll, scroll",
      },
      "*:focus-visible": { outlineColor: "petrol" },
      "*": {
        "@media (prefers-reduced-motion: reduce)": {
          animationDuration: "0s !important",
          transitionDuration: "0s !important",
        },
      },
    },
    theme: {
      tokens: {
        fonts: {
          body: { value: "'Atkinson Hyperlegible Next Variable', sans-serif" },
          heading: { value: "'Atkinson Hyperlegible Next Variable', sans-serif" },
          mono: { value: "'Atkinson Hyperlegible Mono Variable', monospace" },
        },
        fontSizes: {
          xs: { value: "13px" },
          sm: { value: "14px" },
          md: { value: "16px" },
          lg: { value: "20px" },
          xl: { value: "28px" },
        },
      },
      semanticTokens: {
        colors: {
          ...Object.fromEntries(
            Object.keys(PALETTE).map((name) => [name, themed(name as keyof typeof PALETTE)]),
          ),
          bg: {
            DEFAULT: alias("paper"),
            panel: alias("sheet"),
            subtle: alias("paper"),
            muted: alias("rule"),
          },
          fg: {
            DEFAULT: alias("ink"),
            muted: alias("softInk"),
            subtle: alias("softInk"),
            error: alias("brick"),
            warning: alias("ochre"),
          },
          border: { DEFAULT: alias("rule"), emphasized: alias("softInk"), error: alias("brick") },
          petrolScale: {
            solid: alias("petrol"),
            contrast: alias("onPetrol"),
            fg: alias("petrol"),
            muted: alias("rule"),
            subtle: alias("paper"),
            emphasized: alias("rule"),
            focusRing: alias("petrol"),
          },
        },
        radii: { l1: { value: "0px" }, l2: { value: "0px" }, l3: { value: "0px" } },
      },
      recipes: { button },
    },
  }),
);

/** Names that the band's canvas may draw with. */
export type InkName = keyof typeof PALETTE;
/** What the canvas reads from the page's style, by day and by night. */
export const INK_NAMES = Object.keys(PALETTE) as readonly InkName[];
