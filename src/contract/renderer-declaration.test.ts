import { PLAN } from "../../tests/support/plan";
import {
  addedArguments,
  type DeclaredOption,
  declarationFault,
  offerOf,
  type RendererDeclaration,
} from "./renderer-declaration";

const least: RendererDeclaration = { program: "lantern", arguments: ["{scene}", "{output}"] };
const withOption = (option: Partial<DeclaredOption>, name = "glass"): RendererDeclaration => ({
  ...least,
  options: { [name]: { type: "text", label: "Glass", arguments: ["--glass", "{value}"], ...option } },
});

test("what a declaration offers: what its call names, and what it declares", () => {
  expect(offerOf("lantern", least)).toEqual({
    name: "lantern",
    passes: ["beauty"],
    options: [],
    told: [],
    keepsState: false,
    lightEvery: null,
  });
  expect(
    offerOf("lantern", {
      ...least,
      arguments: ["{scene}", "{samples}", "{light}"],
      passes: { depth: { file: "z.png" } },
      options: { timeLimit: { type: "number", label: "Limit", arguments: ["{value}"] } },
      between: { files: ["*.state"] },
      gather: { arguments: ["{output}"], every: 8, file: "l{frame}" },
    }),
  ).toMatchObject({
    passes: ["beauty", "depth"],
    // The limit is the plan's own, and no option beside it.
    options: [],
    told: ["samples", "timeLimit"],
    keepsState: true,
    lightEvery: 8,
  });
});

test("an option enters the call where it has a value, a switch where it is on, a pass where it is wanted", () => {
  const declared: RendererDeclaration = {
    ...least,
    passes: { depth: { file: "z.png", arguments: ["-z", "{file}"] } },
    options: {
      timeLimit: { type: "number", label: "Limit", arguments: ["--limit", "{value}"] },
      glass: { type: "text", label: "Glass", usual: "clear", arguments: ["--glass={value}"] },
      soft: { type: "switch", label: "Soft", arguments: ["--soft"] },
    },
  };
  expect(addedArguments(declared, PLAN, [])).toEqual(["--glass=clear"]);
  expect(
    addedArguments(declared, { ...PLAN, timeLimit: 9, options: { soft: true, glass: "a{b} $c" } }, [
      { pass: "depth", file: "/tmp/z.png" },
    ]),
  ).toEqual(["--limit", "9", "--glass=a{b} $c", "--soft", "-z", "/tmp/z.png"]);
});

test.each([
  [
    "a name that stands for nothing",
    { ...least, arguments: ["{picture}"] },
    "arguments",
    /there are \{scene\}/,
  ],
  [
    "an argument of a pass",
    { ...least, passes: { depth: { file: "{size}.png" } } },
    "passes/depth/file",
    /\{size\}/,
  ],
  ["no regular expression", { ...least, samplesReached: "(" }, "samplesReached", /no regular expression/],
  [
    "a batch that keeps what belongs to one frame",
    { ...least, batch: ["{frames}"], between: { files: ["s"] } },
    "batch",
    /between/,
  ],
  ["light that nobody gathers", { ...least, arguments: ["{light}"] }, "arguments", /gather/],
  [
    "one file for the light of all frames",
    { ...least, gather: { arguments: ["{output}"], every: 4, file: "light" } },
    "gather/file",
    /\{frame\}/,
  ],
  ["a choice of nothing", withOption({ type: "choice" }), "options/glass", /choices/],
  [
    "a usual value that does not fit",
    withOption({ type: "number", usual: "x" }),
    "options/glass/usual",
    /must be a number/,
  ],
  [
    "bounds the wrong way round",
    withOption({ type: "number", minimum: 2, maximum: 1 }),
    "options/glass/minimum",
    /larger/,
  ],
  [
    "an option that says nothing",
    withOption({ arguments: ["--glass"] }),
    "options/glass/arguments",
    /\{value\}/,
  ],
  [
    "a limit that is no number",
    withOption({ type: "text" }, "timeLimit"),
    "options/timeLimit/type",
    /number/,
  ],
] as const)("%s is refused with its place", (_what, declared, path, message) => {
  const fault = declarationFault(declared as RendererDeclaration);
  expect(fault?.path).toBe(path);
  expect(fault?.message).toMatch(message);
});
