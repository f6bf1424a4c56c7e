/** The theme's colours for a canvas: read from the CSS variables, so that day and night have one source. */
import { INK_NAMES, type InkName } from "./system";

/** A CSS colour for each ink. */
export type Palette = Readonly<Record<InkName, string>>;

/** Colours as they stand on an element now. */
export function readPalette(element: Element): Palette {
  const style = getComputedStyle(element);
  return Object.fromEntries(
    INK_NAMES.map((name) => [name, style.getPropertyValue(`--chakra-colors-${kebab(name)}`).trim()]),
  ) as Palette;
}

/** As Chakra writes the names of its variables. */
const kebab = (name: string): string => name.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`);

/** An ink by its CSS variable, for drawings of the browser: day and night change it by themselves. */
export const inkVariable = (name: InkName): string => `var(--chakra-colors-${kebab(name)})`;
