/** Texts of the Plan bench. */
import type { NameHazard } from "@/core/naming/hazards";

/** What happens if nothing is done. */
export function hazardText(hazard: NameHazard): string {
  switch (hazard.code) {
    case "too-few-digits": return `${hazard.digits} digits are too few: from the first number with ${hazard.needed} digits on, alphabetical order is no longer frame order.`;
    case "digit-before-number": return "A digit stands right before the number: the frame number will be misread later.";
    case "forbidden-characters": return `Another operating system refuses ${hazard.characters} in a name: the files cannot be copied there.`;
    case "name-too-long": return `The name is ${hazard.length} bytes long; beyond ${hazard.limit} some systems refuse it. Shorten it.`;
    case "negative-numbers": return `Frame ${hazard.first} is negative: its minus sorts before the digits, and other programs may read it as a dash. Start at 1 or above.`;
  }
}

export function mendText(hazard: NameHazard): string | null {
  switch (hazard.code) {
    case "too-few-digits": return `Use ${hazard.needed} digits`;
    case "digit-before-number": return "Put a dot before the number";
    case "forbidden-characters": return "Replace them with _";
    default: return null;
  }
}
