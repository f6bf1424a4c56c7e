import type { NextStep } from "@/core/tally/next-step";
import { count, frames } from "./words";

/** What the one next step is called, and the bench where it is done. @param of how many there are, such as " of 48"; blank */
export function stepLabel(step: NextStep, of = ""): { readonly label: string; readonly bench: string } {
  switch (step.step) {
    case "watch":
      return { label: "Watch the run", bench: "run" };
    case "resume":
      return { label: `Go on with ${frames(step.frames)}`, bench: "run" };
    case "run":
      return { label: `Run ${frames(step.frames)}${of}`, bench: "run" };
    case "run-rest":
      return { label: `Run the other ${count(step.frames)}`, bench: "run" };
    case "ask":
      return { label: `Ask for ${frames(step.frames)}`, bench: "run" };
    case "patch":
      return { label: `Patch ${frames(step.frames)}`, bench: "patch" };
    case "hand-over":
      return { label: "Hand over", bench: "handover" };
  }
}
