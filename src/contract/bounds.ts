/**
 * How large anything from outside may be, in one table: bodies, paths, queries, plans, configuration, file
 * names, headers of pictures and texts inside them. Schemas and readers take their bounds from here, and
 * columns hold at least as much (a test compares them). A value that is beyond its bound is refused with its
 * name and never cut in silence.
 */
import { MAX_FRAME_NUMBER } from "@/core/frames/frame-set";
import { LONGEST_MACHINE, LONGEST_NAME, LONGEST_PERSON } from "@/core/naming/name";
import { MAX_POINTS } from "@/core/plan/camera-move";
import { MAX_PLAN_FRAMES, MAX_SAMPLES } from "@/core/plan/plan";
import { MAX_RUNS } from "@/core/frames/run-builder";
import { LONGEST_LINE } from "@/core/edit/edl";
import { MAX_SIDE } from "@/core/image/pixels";
import { LONGEST_FILE_NAME } from "@/core/naming/hazards";
import { MAX_DIGITS } from "@/core/naming/pattern";
import { MAX_BATCH } from "@/core/run/batch";
import { MAX_TERM } from "@/core/timing/rate";
import { MAX_LIST_LINES } from "@/core/plan/shot-list";
import { LONGEST_CODE, LONGEST_SLUG, LONGEST_TITLE } from "@/core/plan/shot";

export const BOUNDS = {
  /** Ids of rows, as INT UNSIGNED holds them. */
  id: 4_294_967_295,
  /** Numbers of files, either side of 0. */
  frame: MAX_FRAME_NUMBER,
  /** Characters of a name that we give; those of some things are shorter still. */
  name: LONGEST_NAME,
  cameraName: 64,
  nodeName: 64,
  machineName: LONGEST_MACHINE,
  personName: LONGEST_PERSON,
  /** Of what somebody types to sign in. */
  accessKey: 200,
  projectName: LONGEST_SLUG,
  shotCode: LONGEST_CODE,
  presetName: 80,
  /** Of a root or a renderer that the configuration declares. */
  declaredName: 64,
  title: LONGEST_TITLE,
  /** Of a project, relative to its root. */
  projectFolder: 200,
  /** Shots that are brought in at once; a list of them as a text. */
  shotsAtOnce: MAX_LIST_LINES,
  shotListText: 10_000_000,
  /** What an edit calls itself. */
  editTitle: 200,
  /** Frames before and behind what an edit uses. */
  handles: 10_000,
  /** A file that is brought to a project from a page, in bytes. */
  uploadBytes: 2_147_483_648,
  /** Of a path that is written somewhere, relative to a project. */
  path: 500,
  /** Of a folder that was found below a root. */
  foundPath: 1_000,
  /** Sequences that one version watches. */
  watchedSequences: 500,
  /** A hash, a version of a program, a word of a protocol. */
  word: 255,
  /** What somebody gives as the reason for a flag. */
  reason: 500,
  phrase: 100_000,
  /** Frames of a share as plain numbers. */
  sharePhrase: 1_000_000,
  /** What is looked for in a log. */
  search: 200,
  /** An edit list or a preset as a text. */
  listText: 50_000_000,
  /** A request as a whole, in bytes. */
  bodyBytes: 64_000_000,
  /** Objects and lists inside one another. A plan has four. */
  depth: 64,
  /** Bytes in megabytes that somebody may allow a renderer. */
  memoryMb: 16_777_216,
  /** That a frame may take with a batch system: a week. */
  clusterMinutes: 10_080,
  /** Sides of a picture, in pixels: of a plan, of saved samples, of a file that is decoded. */
  side: MAX_SIDE,
  samples: MAX_SAMPLES,
  /** Frames of a plan, and runs of them in a phrase. */
  planFrames: MAX_PLAN_FRAMES,
  phraseRuns: MAX_RUNS,
  digits: MAX_DIGITS,
  /** Numerator and denominator of a rate. */
  rateTerm: MAX_TERM,
  /** Frames of one call of a renderer. */
  batch: MAX_BATCH,
  /** A file that frames are written to, in characters. */
  fileName: LONGEST_FILE_NAME,
  /** A line of an edit list. */
  editLine: LONGEST_LINE,
  /** A preset file. */
  presetText: 1_000_000,
  /** A pattern of the names of files. */
  namePattern: 200,

  /** Cameras of a scene and of a plan. */
  cameras: 100,
  markers: 1_000,
  /** Points of a camera's path. */
  pathPoints: MAX_POINTS,
  /** Names of nodes in a run's wish. */
  nodesNamed: 1_000,
  /** Frames of a renderer that are in work at once. */
  atOnce: 10_000,
  /** Groups that a node is in; and the name of one, which stands among names of nodes behind a mark. */
  groupsOfNode: 20,
  groupName: 32,
  /** Runs that the same is done to. */
  runsAtOnce: 1_000,
  /** Further versions that a run covers. */
  versionsAlso: 50,
  /** Handovers that follow a run. */
  follow: 10,
  /** Machines of a hand-out. */
  shares: 100,
  /** Numbers of samples of a test strip. */
  strip: 6,
  /** Frames that a node renders at once. */
  cores: 64,
  /** How far programs of a node may step back for others. */
  nice: 19,

  /** Storage roots; characters of the line that brings them to another machine. */
  roots: 64,
  invitation: 20_000,

  /** A program, an argument, a path in the configuration; how many of them; a pattern for lines. */
  configurationLine: 2_000,
  configurationLines: 200,
  configurationPattern: 500,
  /** Options of a renderer; values that one may choose from. */
  rendererOptions: 100,
  optionChoices: 100,
  /** What a call keeps of one frame, in bytes. */
  stateBytes: 68_719_476_736,
  /** What a scene tells of itself, printed. */
  describedText: 1_000_000,
  /** Names of files of a call that are kept; files that are kept of one call. */
  keptNames: 100,
  keptFiles: 1_000,
  /** A year: longer than anybody waits for a frame. */
  seconds: 31_536_000,
  /** A hundred years. */
  keepDays: 36_500,

  /** Metres from where a scene begins, metres a second, and degrees of a turn. */
  sceneLength: 1e6,
  /** The least that a length, a lens or an exposure may be. */
  sceneLeast: 1e-6,
  /** Colours and strengths of light. */
  sceneLight: 1e6,
  sceneRefraction: 10,
  /** Bodies of a group, keys of a value. */
  sceneItems: 100_000,
} as const;

/** Schema of an id of a row. */
export const ID = { type: "integer", minimum: 1, maximum: BOUNDS.id } as const;

/** Schema of the number of a frame. */
export const FRAME = { type: "integer", minimum: -BOUNDS.frame, maximum: BOUNDS.frame } as const;

/** Schema of a name that we give. */
export const nameOfLength = (maxLength: number) =>
  ({ type: "string", minLength: 1, maxLength, format: "name" }) as const;

/** Schema of a text that is shown or kept, and names nothing. */
export const textOfLength = (maxLength: number) => ({ type: "string", maxLength }) as const;
