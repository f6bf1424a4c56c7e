import { PLAN } from "../../../tests/support/plan";
import {
  forOffer,
  offerFaults,
  optionFault,
  type RendererOffer,
  STAND_IN_OFFER,
  withOption,
} from "./renderer-offer";

const ease = {
  name: "ease",
  label: "Ease",
  hint: null,
  kind: { type: "number", minimum: 0, maximum: 10, isWhole: true },
  usual: 0,
} as const;
const glass = {
  name: "glass",
  label: "Glass",
  hint: null,
  kind: { type: "choice", choices: [{ value: "clear", label: "clear" }] },
  usual: null,
} as const;
const offer: RendererOffer = {
  name: "lantern",
  passes: ["beauty", "depth"],
  options: [ease, glass],
  told: ["samples"],
  keepsState: false,
  lightEvery: null,
};
const plan = { ...PLAN, renderer: "lantern" };
const fieldsOf = (change: Partial<typeof plan>) =>
  offerFaults({ ...plan, ...change }, offer).map((fault) => [fault.field, fault.code]);

test.each([
  [{}, []],
  [{ passes: ["beauty", "normal"] as const }, [["passes", "plan-passes"]]],
  [{ options: { ease: 3, glass: "clear" } }, []],
  [
    { options: { ease: 3.5, glass: "green" } },
    [
      ["options", "plan-option-ease"],
      ["options", "plan-option-glass"],
    ],
  ],
  [{ options: { colour: "red" } }, [["options", "plan-option-colour"]]],
  [{ keepSamples: true }, [["keepSamples", "plan-keepSamples"]]],
  [{ timeLimit: 5 }, [["timeLimit", "plan-timeLimit"]]],
])("%p asks for what is offered, or says at which field it does not", (change, faults) =>
  expect(fieldsOf(change)).toEqual(faults),
);

test("no value of a stand-in's plan is refused, and it has no options", () => {
  expect(offerFaults({ ...PLAN, keepSamples: true, timeLimit: 5, noiseTarget: 0.1 }, STAND_IN_OFFER)).toEqual(
    [],
  );
  expect(offerFaults({ ...PLAN, options: { ease: 1 } }, STAND_IN_OFFER)).toMatchObject([
    { field: "options" },
  ]);
});

test("a plan that goes to another renderer leaves behind what that one does not offer, and is sound", () => {
  const before = {
    ...PLAN,
    passes: ["beauty", "normal", "depth"] as const,
    keepSamples: true,
    timeLimit: 60,
    noiseTarget: 0.01,
    sampling: "tiles" as const,
  };
  const after = { ...before, ...forOffer(before, offer) };
  expect(after).toMatchObject({ renderer: "lantern", passes: ["beauty", "depth"], timeLimit: null });
  expect(offerFaults(after, offer)).toEqual([]);
});

test("what is usual is not written down, and nothing takes an option out", () => {
  expect(withOption({}, ease, 3)).toEqual({ ease: 3 });
  expect(withOption({ ease: 3 }, ease, 0)).toEqual({});
  expect(withOption({ ease: 3, glass: "clear" }, glass, null)).toEqual({ ease: 3 });
});

test("the fault of a value says what would do", () => {
  expect(optionFault(ease, Number.NaN)).toBe("Ease must be a whole number from 0 to 10; it is blank.");
  expect(optionFault({ ...ease, kind: { type: "switch" } }, 1)).toBe("Ease is on or off: true or false.");
  expect(optionFault({ ...ease, kind: { type: "text", longest: 3 } }, "four")).toMatch(
    /3 characters at most/,
  );
});
