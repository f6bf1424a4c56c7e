/**
 * OpenTimelineIO timelines (the JSON form, `.otio`): a tree of stacks and tracks down to clips with a
 * source range. Only video counts. Transitions show more of both neighbours; a linear time warp shows
 * more or less of a source in the same time.
 */
import { jsonFaultLine } from "../json-fault";
import type { Rate } from "../timing/rate";
import { canBeShown, type EditClip, type EditRead, refuseEdit } from "./edit-list";

type Json = Readonly<Record<string, unknown>>;

const isObject = (value: unknown): value is Json =>
  typeof value === "object" && value !== null && !Array.isArray(value);
/** The schema's name without its number: `Clip` of `Clip.2`. */
const kindOf = (value: unknown): string =>
  isObject(value) && typeof value.OTIO_SCHEMA === "string" ? value.OTIO_SCHEMA.split(".")[0]! : "";
/** What is no list has no members. */
const listOf = (value: unknown): readonly unknown[] => (Array.isArray(value) ? value : []);
/** Blank where there is none. */
const nameOf = (value: unknown): string =>
  isObject(value) && typeof value.name === "string" ? value.name : "";

/** Carries the place of the fault up through the tree, to the one door of this module. */
class Wrong extends Error {
  readonly code: "otio-kind" | "otio-time";
  constructor(code: "otio-kind" | "otio-time", message: string) {
    super(message);
    this.code = code;
  }
}

/** Frames of a RationalTime at `rate`. */
function framesOf(value: unknown, rate: Rate, at: string): number {
  if (
    !isObject(value) ||
    typeof value.value !== "number" ||
    typeof value.rate !== "number" ||
    !(value.rate > 0) ||
    !Number.isFinite(value.value)
  )
    throw new Wrong("otio-time", `${at} is no time: it needs a value and a rate above 0.`);
  const perSecond = rate.numerator / rate.denominator;
  // Rates are written with few digits (23.976): nearly the same rate is the same rate.
  return Math.abs(value.rate - perSecond) < 0.01
    ? Math.round(value.value)
    : Math.round((value.value / value.rate) * perSecond);
}

/** The media that a clip shows: one reference, or the active one of several. */
function mediaOf(clip: Json): Json | null {
  const many = clip.media_references;
  if (isObject(many)) {
    const active =
      many[
        typeof clip.active_media_reference_key === "string"
          ? clip.active_media_reference_key
          : "DEFAULT_MEDIA"
      ];
    return isObject(active) ? active : null;
  }
  return isObject(clip.media_reference) ? clip.media_reference : null;
}

/** A clip as source frames, with what transitions beside it show more; null where it shows nothing. */
function readClip(clip: Json, rate: Rate, before: number, after: number, at: string): EditClip | null {
  const media = mediaOf(clip);
  const range = isObject(clip.source_range)
    ? clip.source_range
    : isObject(media?.available_range)
      ? media.available_range
      : null;
  if (range === null) return null;
  const start = framesOf(range.start_time, rate, `${at}.source_range.start_time`);
  const length = framesOf(range.duration, rate, `${at}.source_range.duration`);
  const speed = listOf(clip.effects).reduce<number>(
    (all, effect) =>
      kindOf(effect) === "LinearTimeWarp" && typeof (effect as Json).time_scalar === "number"
        ? all * Math.abs((effect as Json).time_scalar as number)
        : all,
    1,
  );
  const url = typeof media?.target_url === "string" ? media.target_url : "";
  const shown = { first: start - before, end: start + Math.ceil(length * speed) + after };
  if (!canBeShown(shown)) throw new Wrong("otio-time", `${at} would show more frames than there can be.`);
  return {
    names: [nameOf(clip), nameOf(media), url.split("/").at(-1) ?? ""].filter((name) => name !== ""),
    ...shown,
    at,
  };
}

/** Stacks and tracks inside one another; timelines of editors have a handful. */
const DEEPEST = 50;

/** Down to the clips, in the order of the timeline. */
function walk(node: unknown, rate: Rate, at: string, into: EditClip[], depth = 0): void {
  if (depth > DEEPEST)
    throw new Wrong("otio-kind", `The timeline has more than ${DEEPEST} levels inside one another.`);
  const kind = kindOf(node);
  if (!isObject(node)) throw new Wrong("otio-kind", `${at} is nothing that a timeline holds.`);
  if (kind === "Timeline") walk(node.tracks, rate, `${at}.tracks`, into, depth + 1);
  else if (kind === "Stack" || kind === "SerializableCollection")
    listOf(node.children).forEach((child, i) => walk(child, rate, `${at}.children[${i}]`, into, depth + 1));
  else if (kind === "Track") {
    if (node.kind === "Audio") return;
    const children = listOf(node.children);
    const offset = (neighbour: unknown, side: "in_offset" | "out_offset", where: string): number =>
      kindOf(neighbour) === "Transition" ? framesOf((neighbour as Json)[side], rate, `${where}.${side}`) : 0;
    children.forEach((child, i) => {
      const where = `${at}.children[${i}]`;
      if (kindOf(child) === "Clip") {
        // A transition before reaches in_offset back into what lies ahead of this clip's start; one behind,
        // out_offset past its end.
        const clip = readClip(
          child as Json,
          rate,
          offset(children[i - 1], "in_offset", where),
          offset(children[i + 1], "out_offset", where),
          where,
        );
        if (clip !== null) into.push(clip);
      } else if (!["Gap", "Transition"].includes(kindOf(child))) walk(child, rate, where, into, depth + 1);
    });
  } else if (kind === "Clip") {
    const clip = readClip(node, rate, 0, 0, at);
    if (clip !== null) into.push(clip);
  } else
    throw new Wrong(
      "otio-kind",
      `${at} has the kind "${kind || "none"}"; a timeline holds stacks, tracks and clips.`,
    );
}

/** Reads a timeline; its times are turned into frames at `rate`. */
export function readOtio(text: string, rate: Rate): EditRead {
  let root: unknown;
  try {
    root = JSON.parse(text);
  } catch (error) {
    return refuseEdit(
      "otio-json",
      jsonFaultLine(text, error as Error),
      `this is no JSON (${(error as Error).message}).`,
    );
  }
  const clips: EditClip[] = [];
  try {
    walk(root, rate, "timeline", clips);
  } catch (error) {
    if (error instanceof Wrong) return refuseEdit(error.code, null, error.message);
    throw error;
  }
  return clips.length === 0
    ? refuseEdit("otio-kind", null, "There is no clip in this timeline.")
    : { ok: true, edit: { title: nameOf(root), clips } };
}
