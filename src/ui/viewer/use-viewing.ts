"use client";
import { useKept } from "../band/use-kept";
import { isViewing, USUAL_VIEWING, type Viewing } from "./viewing";

export interface KeptViewing {
  readonly viewing: Viewing;
  readonly change: (next: Partial<Viewing>) => void;
}

/** What the person has chosen in the viewer; the tab keeps it. */
export function useViewing(): KeptViewing {
  const [viewing, setViewing] = useKept<Viewing>("viewing", isViewing, USUAL_VIEWING);
  return { viewing, change: (next) => setViewing({ ...viewing, ...next }) };
}
