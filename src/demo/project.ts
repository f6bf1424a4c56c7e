/** "Harbour Lights", a short film of our own: its shots and first plans. */
import { type Plan, PLAN_DEFAULTS } from "@/core/plan/plan";
import type { Marker } from "@/core/plan/notes";

export interface DemoShot {
  readonly code: string;
  readonly title: string;
  readonly first: number;
  readonly last: number;
  readonly markers: readonly Marker[];
  readonly plan: Plan;
  /** Frames that render from the start. */
  readonly runs: readonly { readonly phrase: string; readonly nodes: readonly string[] | null }[];
  /** Frames that are proved from the start. */
  readonly proofs?: string;
}

/** The project of the demo, and of every screenshot; on the root `frames`, where there is one. */
export const PROJECT = {
  slug: "harbour-lights",
  title: "Harbour Lights",
  rate: { numerator: 24, denominator: 1 },
  root: "frames",
  folder: "harbour-lights",
};

const plan = (
  scene: string,
  cameras: readonly string[],
  frames: string,
  last: number,
  samples: number,
): Plan => ({
  ...PLAN_DEFAULTS,
  scene: `scenes/${scene}.json`,
  cameras,
  frames,
  timeLine: { first: 1001, last, rate: PROJECT.rate },
  rate: PROJECT.rate,
  width: 256,
  height: 144,
  samples,
  namePattern: cameras.length > 1 ? "{shot}_{camera}_{pass}.{frame}" : "{shot}_{pass}.{frame}",
});

/** Its shots in the order of the film. */
export const SHOTS: readonly DemoShot[] = [
  {
    code: "HL010",
    title: "the lighthouse wakes",
    first: 1001,
    last: 1096,
    markers: [
      { name: "dusk", first: 1001, end: 1015 },
      { name: "flicker", first: 1015, end: 1040 },
      { name: "sweep", first: 1040, end: 1097 },
    ],
    plan: plan("hl010", ["main"], "1001-1096", 1096, 6),
    runs: [{ phrase: "1001-1096", nodes: ["quay-1", "mole-1"] }],
  },
  {
    code: "HL020",
    title: "buoys in the swell",
    first: 1001,
    last: 1072,
    markers: [{ name: "swell", first: 1001, end: 1073 }],
    plan: plan("hl020", ["main"], "1001-1072", 1072, 6),
    runs: [{ phrase: "1001-1072", nodes: null }],
  },
  {
    code: "HL030",
    title: "the brass lantern turns",
    first: 1001,
    last: 1120,
    markers: [{ name: "turn", first: 1001, end: 1121 }],
    plan: { ...plan("hl030", ["main"], "1001-1120", 1120, 16), passes: ["beauty", "denoised", "depth"] },
    runs: [],
    proofs: "first,middle,last",
  },
  {
    code: "HL040",
    title: "the ferry comes in",
    first: 1001,
    last: 1144,
    markers: [
      { name: "approach", first: 1001, end: 1097 },
      { name: "berth", first: 1097, end: 1145 },
    ],
    plan: plan("hl040", ["quay", "mole"], "1001-1144/2", 1144, 6),
    runs: [],
  },
];
