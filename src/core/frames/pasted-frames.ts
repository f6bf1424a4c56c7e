/**
 * A list of frames as somebody writes it in a mail or a table, as a phrase: one a line, with blanks, tabs, commas
 * or semicolons, with "and", and stretches with "to" or any dash.
 */
import { MAX_FRAME_NUMBER } from "./frame-set";

/** Between numbers; "&" and "and" both mean one more. */
const BETWEEN = /^(?:and|&|\+|,|;|•|\*)$/i;
/** From one number to another. */
const TO = /^(?:to|through|until|-|–|—)$/i;
const NUMBER = /^#?(\d{1,9})\.?$/;
/** Glued together: 55-57, 55–57, 55..57. */
const STRETCH = /^#?(\d{1,9})(?:-|–|—|\.\.\.?|…)#?(\d{1,9})(\/\d{1,9})?$/;
/** What stands before a list and is no part of it. */
const LABEL = /^(?:frames?|frs?|f|nos?|numbers?):?$/i;

/** @returns plain numbers and stretches with commas, or null where something in it is none of that */
export function readPastedFrames(text: string): string | null {
  const words = text
    .replace(/[,;]/g, " $& ")
    .split(/\s+/)
    .filter((word) => word !== "");
  const terms: string[] = [];
  // A number that "to" stands behind waits for its end.
  let openFrom: string | null = null;
  for (const word of words) {
    if (TO.test(word)) {
      const last = terms.pop();
      if (openFrom !== null || last === undefined || !/^\d+$/.test(last)) return null;
      openFrom = last;
      continue;
    }
    const number = NUMBER.exec(word)?.[1];
    if (number !== undefined) {
      const frame = String(Number(number));
      if (Number(frame) > MAX_FRAME_NUMBER) return null;
      terms.push(openFrom === null ? frame : `${openFrom}-${frame}`);
      openFrom = null;
      continue;
    }
    if (openFrom !== null) return null;
    const stretch = STRETCH.exec(word);
    if (stretch !== null) terms.push(`${Number(stretch[1])}-${Number(stretch[2])}${stretch[3] ?? ""}`);
    else if (!BETWEEN.test(word) && !LABEL.test(word)) return null;
  }
  return terms.length === 0 || openFrom !== null ? null : terms.join(",");
}
