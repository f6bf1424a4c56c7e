/** Names that are proposed, so that nobody has to think of how one must be written. */
import { LONGEST_CODE, LONGEST_SLUG } from "./shot";

/** Letters without the marks above and below them: é becomes e. */
const plain = (text: string): string => text.normalize("NFKD").replace(/\p{M}/gu, "");

/** A project's name for a title: "Harbour Lights" becomes harbour-lights; blank where nothing of it can stay. */
export const slugOf = (title: string): string =>
  plain(title)
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .slice(0, LONGEST_SLUG)
    .replace(/^-+|-+$/g, "");

/** A shot's code for the name of a file or a clip: `hl010_v3.json` becomes HL010_V3. */
export const codeOf = (file: string): string =>
  plain(file)
    .replace(/^.*[/\\]/, "")
    .replace(/(?<=.)\.[A-Za-z0-9]+$/, "")
    .toUpperCase()
    .replace(/[^A-Z0-9_-]+/g, "_")
    .replace(/^[_-]+|[_-]+$/g, "")
    .slice(0, LONGEST_CODE);
