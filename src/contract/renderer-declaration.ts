/**
 * A renderer as the configuration declares it: how it is called, what it offers to plans, what it keeps.
 * The schema tells its shape; what parts of it mean together is told by `declarationFault`.
 */
import type { OptionValue } from "@/core/plan/option-value";
import { fillTemplate, unknownNames } from "@/core/plan/call-template";
import { type Pass, PASSES } from "@/core/plan/passes";
import { PLACEHOLDERS } from "@/core/plan/renderer";
import {
  type OptionKind,
  optionFault,
  type RendererOffer,
  type RendererOption,
  TOLD_SETTINGS,
  type ToldSetting,
} from "@/core/plan/renderer-offer";
import type { Plan } from "@/core/plan/plan";
import { BOUNDS } from "./bounds";
import { line, template } from "./declared-texts";
import { objectOf } from "./validate";

/** A renderer with a command line. Its arguments are an array and no shell sees them. */
export interface RendererDeclaration {
  /** A path, or a name that is found on the PATH of the node. */
  readonly program: string;
  /**
   * Arguments for one frame, with {scene}, {frame}, {camera}, {width}, {height}, {samples}, {seed}, {output},
   * {passes} (all that are wanted, with commas) and {light}. Those of options and passes follow them.
   */
  readonly arguments: readonly string[];
  /**
   * Arguments for several frames at once: {frames} is a phrase, {first} and {last} its ends, and {output} has
   * #### for the frame.
   */
  readonly batch?: readonly string[];
  /**
   * Files and folders beside the scene that it may use: they are copied with it when a run starts, and a
   * frame made from other bytes is out of date.
   */
  readonly uses?: readonly string[];
  /** A frame that takes longer is ended. */
  readonly timeoutSeconds?: number;
  /**
   * Finds progress in a line that the program prints: the first group is percent, or with a second one "done"
   * of "all".
   */
  readonly progress?: string;
  /** Finds the line after which a call renders: what went before is its start-up. */
  readonly started?: string;
  /**
   * Names of files that it leaves in the folder of a call and that are kept beside the frames; `*` stands for
   * anything.
   */
  readonly keeps?: readonly string[];
  /** Arguments with which the program says its version and ends: each node asks before its first frame. */
  readonly probe?: readonly string[];
  /** What the pictures depend on besides the call: a version, say. Another one makes frames out of date. */
  readonly version?: string;
  /** Further pictures that one call of a frame writes, by the pass that each is. */
  readonly passes?: Readonly<Partial<Record<Pass, DeclaredPass>>>;
  /**
   * What a plan may set, by name. `timeLimit` (seconds a frame) and `noiseTarget` (share of white) are the
   * plan's own limits, which change how much is done; every other option decides the picture.
   */
  readonly options?: Readonly<Record<string, DeclaredOption>>;
  /** The first part of two-part runs. */
  readonly gather?: DeclaredGather;
  /** What it goes on from. */
  readonly between?: DeclaredState;
  /** Finds in a line how many samples a pixel the picture has: the first group. */
  readonly samplesReached?: string;
  /** Arguments with which it prints what a scene tells of itself, as JSON, and ends. */
  readonly describe?: readonly string[];
}

/** A picture beside the beauty. */
export interface DeclaredPass {
  /** Its name in the folder of the call, with {frame} and {ext}. */
  readonly file: string;
  /** Added to the call when the plan wants this pass, with {file} for where it is looked for. */
  readonly arguments?: readonly string[];
}

/** An option as the field on the page and as arguments of the call. */
export interface DeclaredOption {
  readonly type: "number" | "choice" | "switch" | "text";
  readonly label: string;
  readonly hint?: string;
  /** Where a plan says nothing; left out: the program is told nothing. */
  readonly usual?: OptionValue;
  /** Of a number. */
  readonly minimum?: number;
  readonly maximum?: number;
  readonly whole?: boolean;
  /** Of a choice: what is told, and what it is called on the page. */
  readonly choices?: Readonly<Record<string, string>>;
  /** Added to the call where it has a value, with {value}; of a switch where it is on. */
  readonly arguments: readonly string[];
}

/** A call that gathers light at one frame of the scene and writes no picture. */
export interface DeclaredGather {
  /** With {output} for the file that it leaves, and what a call for one frame may name. */
  readonly arguments: readonly string[];
  /** Frames of the scene from one gathered light to the next. */
  readonly every: number;
  /**
   * Its name, with {frame}: in the call for a frame {light} is a folder that holds the files at the frame or
   * to both sides of it.
   */
  readonly file: string;
}

/** Files with which a frame goes on that was stopped. */
export interface DeclaredState {
  /** Names in the folder of the call; `*` stands for anything. */
  readonly files: readonly string[];
  /** So long it may take to write them once it was asked to end (SIGTERM); 20 where left out. */
  readonly stopSeconds?: number;
}

const expression = { type: "string", minLength: 1, maxLength: BOUNDS.configurationPattern } as const;
/** Names of files in a folder, and never a way out of it. */
const namePattern = { type: "string", minLength: 1, maxLength: BOUNDS.word, pattern: "^[^/\\\\]+$" } as const;
const fileName = { ...namePattern, pattern: "^(?!\\.)[^/\\\\]+$" } as const;

const value = { type: ["string", "number", "boolean"], maxLength: BOUNDS.configurationLine } as const;
const option = objectOf<DeclaredOption>(
  {
    type: { enum: ["number", "choice", "switch", "text"] },
    label: { ...line, maxLength: BOUNDS.word },
    hint: { ...line, maxLength: BOUNDS.reason },
    usual: value,
    minimum: { type: "number" },
    maximum: { type: "number" },
    whole: { type: "boolean" },
    choices: {
      type: "object",
      required: [],
      minProperties: 1,
      maxProperties: BOUNDS.optionChoices,
      additionalProperties: { ...line, maxLength: BOUNDS.word },
    },
    arguments: template,
  },
  ["type", "label", "arguments"],
);

/** Shape and bounds alone. */
export const rendererSchema = objectOf<RendererDeclaration>(
  {
    program: line,
    arguments: template,
    batch: template,
    uses: { type: "array", items: line, maxItems: BOUNDS.configurationLines },
    keeps: {
      type: "array",
      items: namePattern,
      maxItems: BOUNDS.keptNames,
    },
    timeoutSeconds: { type: "number", exclusiveMinimum: 0, maximum: BOUNDS.seconds },
    progress: expression,
    started: expression,
    probe: { ...template, minItems: 0 },
    version: line,
    passes: {
      type: "object",
      required: [],
      propertyNames: { enum: PASSES.filter((pass) => pass !== "beauty") },
      additionalProperties: objectOf<DeclaredPass>({ file: fileName, arguments: template }, ["file"]),
    },
    options: {
      type: "object",
      required: [],
      maxProperties: BOUNDS.rendererOptions,
      propertyNames: { pattern: "^[a-z][A-Za-z0-9-]*$", maxLength: BOUNDS.declaredName },
      additionalProperties: option,
    },
    gather: objectOf<DeclaredGather>({
      arguments: template,
      every: { type: "integer", minimum: 1, maximum: BOUNDS.frame },
      file: fileName,
    }),
    between: objectOf<DeclaredState>(
      {
        files: { type: "array", items: namePattern, minItems: 1, maxItems: BOUNDS.keptNames },
        stopSeconds: { type: "number", exclusiveMinimum: 0, maximum: BOUNDS.seconds },
      },
      ["files"],
    ),
    samplesReached: expression,
    describe: template,
  },
  ["program", "arguments"],
);

/** Options that are the plan's own limits: they are told as options are, and kept where every plan has them. */
const OWN_LIMITS = ["timeLimit", "noiseTarget"] as const satisfies readonly ToldSetting[];
const isOwnLimit = (name: string): name is (typeof OWN_LIMITS)[number] =>
  (OWN_LIMITS as readonly string[]).includes(name);

/** An option is a number between these where its declaration says nothing. */
const WIDEST = 1e9;
const LONGEST_OPTION_TEXT = 200;

function kindOf({ type, minimum, maximum, whole, choices }: DeclaredOption): OptionKind {
  switch (type) {
    case "number":
      return {
        type,
        minimum: minimum ?? -WIDEST,
        maximum: maximum ?? WIDEST,
        isWhole: whole === true,
      };
    case "choice":
      return { type, choices: Object.entries(choices ?? {}).map(([value, label]) => ({ value, label })) };
    case "switch":
      return { type };
    case "text":
      return { type, longest: LONGEST_OPTION_TEXT };
  }
}

const readOption = ([name, declared]: readonly [string, DeclaredOption]): RendererOption => ({
  name,
  label: declared.label,
  hint: declared.hint ?? null,
  kind: kindOf(declared),
  usual: declared.usual ?? (declared.type === "switch" ? false : null),
});

/** All arguments that a call for a frame may have. */
const callTexts = (declared: RendererDeclaration): readonly string[] => [
  ...declared.arguments,
  ...(declared.batch ?? []),
];

/** What the declaration offers to plans. */
export function offerOf(name: string, declared: RendererDeclaration): RendererOffer {
  const options = Object.entries(declared.options ?? {}).map(readOption);
  const texts = callTexts(declared);
  return {
    name,
    passes: PASSES.filter((pass) => pass === "beauty" || declared.passes?.[pass] !== undefined),
    options: options.filter((option) => !isOwnLimit(option.name)),
    told: TOLD_SETTINGS.filter(
      (setting) =>
        options.some((option) => option.name === setting) ||
        texts.some((argument) => argument.includes(`{${setting}}`)),
    ),
    keepsState: declared.between !== undefined,
    lightEvery: declared.gather?.every ?? null,
  };
}

/**
 * Arguments for the options of a plan, in the order of the declaration, and for the passes that are wanted.
 * @param passes with the places where they are looked for
 */
export function addedArguments(
  declared: RendererDeclaration,
  plan: Plan,
  passes: readonly { readonly pass: Pass; readonly file: string }[],
): readonly string[] {
  const added = Object.entries(declared.options ?? {}).flatMap(([name, option]) => {
    const value = isOwnLimit(name) ? plan[name] : (plan.options[name] ?? option.usual ?? null);
    if (value === null || value === false) return [];
    return fillTemplate(option.arguments, { value: String(value) });
  });
  return [
    ...added,
    ...passes.flatMap(({ pass, file }) => fillTemplate(declared.passes?.[pass]?.arguments ?? [], { file })),
  ];
}

const inBraces = (names: readonly string[]): string => names.map((name) => `{${name}}`).join(", ");

/** A field of the declaration, with what is wrong with it as the end of a sentence. */
export interface DeclarationFault {
  /** Keys below the declaration, with slashes. */
  readonly path: string;
  readonly message: string;
}

/** Names in braces that each template may hold; {value} and {ext} mean something in their places alone. */
function* templates(
  declared: RendererDeclaration,
): Generator<readonly [path: string, texts: readonly string[], names: readonly string[]]> {
  yield ["arguments", declared.arguments, PLACEHOLDERS];
  yield ["batch", declared.batch ?? [], PLACEHOLDERS];
  for (const [name, option] of Object.entries(declared.options ?? {}))
    yield [`options/${name}/arguments`, option.arguments, ["value"]];
  for (const [name, pass] of Object.entries(declared.passes ?? {})) {
    yield [`passes/${name}/file`, [pass.file], ["frame", "ext"]];
    yield [`passes/${name}/arguments`, pass.arguments ?? [], ["file"]];
  }
  if (declared.gather !== undefined) {
    yield [
      "gather/arguments",
      declared.gather.arguments,
      PLACEHOLDERS.filter((name) => name !== "light" && name !== "frames" && name !== "passes"),
    ];
    yield ["gather/file", [declared.gather.file], ["frame"]];
  }
  yield ["describe", declared.describe ?? [], ["scene"]];
}

function optionsFault(declared: RendererDeclaration): DeclarationFault | null {
  for (const [name, option] of Object.entries(declared.options ?? {})) {
    const path = `options/${name}`;
    if (isOwnLimit(name) && option.type !== "number")
      return { path: `${path}/type`, message: `is the plan's own ${name}, which is a number` };
    if (option.type === "choice" && option.choices === undefined)
      return { path, message: 'is a choice and has no "choices"' };
    const { kind, usual } = readOption([name, option]);
    if (kind.type === "number" && kind.minimum > kind.maximum)
      return { path: `${path}/minimum`, message: "is larger than the maximum" };
    const fault = usual === null ? null : optionFault(readOption([name, option]), usual);
    if (fault !== null) return { path: `${path}/usual`, message: `does not fit: ${fault}` };
    if (option.type !== "switch" && !option.arguments.some((argument) => argument.includes("{value}")))
      return { path: `${path}/arguments`, message: "never hold {value}" };
  }
  return null;
}

/** What the schema cannot tell of a declaration; null for a sound one. */
export function declarationFault(declared: RendererDeclaration): DeclarationFault | null {
  for (const [path, texts, names] of templates(declared)) {
    const [unknown] = unknownNames(texts, names);
    if (unknown !== undefined)
      return {
        path,
        message: `has {${unknown}} in its arguments; there ${names.length === 0 ? "are none" : `are ${inBraces(names)}`}`,
      };
  }
  for (const path of ["progress", "started", "samplesReached"] as const) {
    const text = declared[path];
    try {
      if (text !== undefined) new RegExp(text);
    } catch (error) {
      return { path, message: `has no regular expression: ${(error as Error).message}` };
    }
  }
  if (declared.between !== undefined && declared.batch !== undefined)
    return {
      path: "batch",
      message: 'cannot be had with "between": what is kept belongs to one frame, and so does its call',
    };
  if (declared.gather === undefined && callTexts(declared).some((argument) => argument.includes("{light}")))
    return { path: "arguments", message: 'has {light}, and there is no "gather" that makes it' };
  if (declared.gather !== undefined && !declared.gather.file.includes("{frame}"))
    return { path: "gather/file", message: "must hold {frame}: each frame's light is a file of its own" };
  return optionsFault(declared);
}
