/**
 * OpenTimelineIO timelines (the JSON form, `.otio`): a tree of stacks and tracks down to clips with a
 * source range, on tracks of pictures and of sound. Transitions show more of both neighbours; a linear time warp shows
 * more or less of a source in the same time.
 */
import { jsonFaultLine } from "../json-fault";
import type { Rate } from "../timing/rate";
import { canBeShown, type EditClip, type EditRead, type EditSound, refuseEdit } from "./edit-list";

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

/** What has been found so far. */
interface Found {
  readonly clips: EditClip[];
  readonly sound: EditSound[];
}

/** Where the walk is. */
interface Spot {
  /** Path from the timeline on. */
  readonly at: string;
  readonly depth: number;
  /** Frames of the edit before it. */
  readonly starts: number;
  readonly isSound: boolean;
}

/** Frames that a clip lasts in the edit; what it shows, with what transitions beside it show more, is kept. */
function readClip(clip: Json, rate: Rate, spot: Spot, found: Found, before = 0, after = 0): number {
  const { at, starts, isSound } = spot;
  const media = mediaOf(clip);
  const range = isObject(clip.source_range)
    ? clip.source_range
    : isObject(media?.available_range)
      ? media.available_range
      : null;
  if (range === null) return 0;
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
  const names = (all: readonly string[]): string[] => all.filter((name) => name !== "");
  // A sound is looked for where its file was; a picture means a shot by its name.
  if (isSound) found.sound.push({ names: names([url, nameOf(media), nameOf(clip)]), ...shown, starts });
  else
    found.clips.push({
      names: names([nameOf(clip), nameOf(media), url.split("/").at(-1) ?? ""]),
      ...shown,
      starts,
      at,
    });
  return length;
}

/** Stacks and tracks inside one another; timelines of editors have a handful. */
const DEEPEST = 50;

/** Down to the clips, in the order of the timeline. @returns frames that the node lasts */
function walk(node: unknown, rate: Rate, spot: Spot, found: Found): number {
  const { at, depth } = spot;
  if (depth > DEEPEST)
    throw new Wrong("otio-kind", `The timeline has more than ${DEEPEST} levels inside one another.`);
  const kind = kindOf(node);
  if (!isObject(node)) throw new Wrong("otio-kind", `${at} is nothing that a timeline holds.`);
  const inside = (where: string): Spot => ({ ...spot, at: where, depth: depth + 1 });
  const own = (lasts: number): number =>
    isObject(node.source_range)
      ? framesOf(node.source_range.duration, rate, `${at}.source_range.duration`)
      : lasts;
  if (kind === "Timeline") return walk(node.tracks, rate, inside(`${at}.tracks`), found);
  if (kind === "Stack" || kind === "SerializableCollection")
    return own(
      listOf(node.children)
        .map((child, i) => walk(child, rate, inside(`${at}.children[${i}]`), found))
        .reduce((longest, lasts) => Math.max(longest, lasts), 0),
    );
  if (kind === "Track") return own(walkTrack(node, rate, { ...spot, isSound: node.kind === "Audio" }, found));
  if (kind === "Clip") return readClip(node, rate, spot, found);
  if (kind === "Gap") return own(0);
  throw new Wrong(
    "otio-kind",
    `${at} has the kind "${kind || "none"}"; a timeline holds stacks, tracks and clips.`,
  );
}

/** One behind the other; transitions take no time of their own. @returns frames that the track lasts */
function walkTrack(track: Json, rate: Rate, spot: Spot, found: Found): number {
  const children = listOf(track.children);
  let lasts = 0;
  for (const [i, child] of children.entries()) {
    const at = `${spot.at}.children[${i}]`;
    const offset = (neighbour: unknown, side: "in_offset" | "out_offset"): number =>
      kindOf(neighbour) === "Transition" ? framesOf((neighbour as Json)[side], rate, `${at}.${side}`) : 0;
    const here = { ...spot, at, starts: spot.starts + lasts, depth: spot.depth + 1 };
    if (kindOf(child) === "Transition") continue;
    // A transition before reaches in_offset back into what lies ahead of this clip's start; one behind,
    // out_offset past its end.
    lasts +=
      kindOf(child) === "Clip"
        ? readClip(
            child as Json,
            rate,
            here,
            found,
            offset(children[i - 1], "in_offset"),
            offset(children[i + 1], "out_offset"),
          )
        : walk(child, rate, here, found);
  }
  return lasts;
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
  const found: Found = { clips: [], sound: [] };
  try {
    walk(root, rate, { at: "timeline", depth: 0, starts: 0, isSound: false }, found);
  } catch (error) {
    if (error instanceof Wrong) return refuseEdit(error.code, null, error.message);
    throw error;
  }
  return found.clips.length === 0
    ? refuseEdit("otio-kind", null, "There is no clip in this timeline.")
    : { ok: true, edit: { title: nameOf(root), ...found } };
}
