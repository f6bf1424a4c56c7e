/**
 * File name patterns: text with tokens `{project} {shot} {version} {pass} {camera} {frame}`.
 * `####` and `%04d` are read as the frame with that many digits and win over the plan's digits.
 * The extension is not part of the pattern: it follows from the file format.
 */

const NAME_TOKENS = ["project", "shot", "version", "pass", "camera", "frame"] as const;
export type NameToken = (typeof NAME_TOKENS)[number];

/** A text as it stands, or a token. */
export type NamePart =
  { readonly kind: "text"; readonly text: string } | { readonly kind: "token"; readonly token: NameToken };

export interface NamePattern {
  readonly parts: readonly NamePart[];
  /** That the pattern itself asks for, or the plan's. */
  readonly digits: number;
}

/** What each token becomes; the frame comes per file. */
export type NameValues = Readonly<Record<Exclude<NameToken, "frame">, string>>;

export interface PatternError {
  readonly code:
    "pattern-no-frame" | "pattern-two-frames" | "pattern-unknown-token" | "pattern-folder" | "pattern-digits";
  /** With what is wrong and what would do. */
  readonly message: string;
}

export type PatternResult =
  { readonly ok: true; readonly pattern: NamePattern } | { readonly ok: false; readonly error: PatternError };

/** More than any frame number has. */
export const MAX_DIGITS = 9;

/** Tokens and what stands between them. */
const SPLIT = /(\{[^{}]*\}|#+|%0?\d*d)/;

/**
 * Reads a pattern, or says what is wrong with it and why it matters on some disk. @param digits width where
 * the pattern itself gives none
 */
export function parsePattern(source: string, digits: number): PatternResult {
  const refuse = (code: PatternError["code"], message: string): PatternResult => ({
    ok: false,
    error: { code, message },
  });
  if (/[/\\]/.test(source))
    return refuse(
      "pattern-folder",
      "A name cannot hold / or \\: folders are made from shot, version, camera and pass.",
    );
  const parts: NamePart[] = [];
  let width = digits;
  let frames = 0;
  for (const piece of source.split(SPLIT)) {
    if (piece === "") continue;
    const hashes = /^#+$/.test(piece);
    const percent = /^%0?(\d*)d$/.exec(piece);
    if (hashes || percent !== null) {
      width = hashes ? piece.length : Math.max(1, Number(percent![1] || 1));
      frames++;
      parts.push({ kind: "token", token: "frame" });
    } else if (piece.startsWith("{")) {
      const token = NAME_TOKENS.find((t) => `{${t}}` === piece);
      if (token === undefined)
        return refuse(
          "pattern-unknown-token",
          `${piece} is no token; known are ${NAME_TOKENS.map((t) => `{${t}}`).join(" ")}.`,
        );
      if (token === "frame") frames++;
      parts.push({ kind: "token", token });
    } else {
      parts.push({ kind: "text", text: piece });
    }
  }
  // A blank name is fine: the number alone.
  if (source.trim() === "")
    return { ok: true, pattern: { parts: [{ kind: "token", token: "frame" }], digits: width } };
  if (frames === 0)
    return refuse(
      "pattern-no-frame",
      "The name has no {frame}: every frame would be written over the one before. Add {frame} or ####.",
    );
  if (frames > 1)
    return refuse(
      "pattern-two-frames",
      "The name holds the frame twice; the number could not be read back. Keep one.",
    );
  if (!Number.isInteger(width) || width < 1 || width > MAX_DIGITS)
    return refuse("pattern-digits", `Digits must be a whole number from 1 to ${MAX_DIGITS}.`);
  return { ok: true, pattern: { parts, digits: width } };
}

/** The number as written in a name: padded with zeros, the sign in front of them. */
export const padFrame = (frame: number, digits: number): string =>
  (frame < 0 ? "-" : "") + String(Math.abs(frame)).padStart(digits, "0");

/** The file name of one frame, extension (without dot) included. */
export function fileName(pattern: NamePattern, values: NameValues, frame: number, extension: string): string {
  const stem = pattern.parts
    .map((part) =>
      part.kind === "text"
        ? part.text
        : part.token === "frame"
          ? padFrame(frame, pattern.digits)
          : values[part.token],
    )
    .join("");
  return `${stem}.${extension}`;
}
