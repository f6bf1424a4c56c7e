"use client";
/** The name under which this browser acts, for parts of a page that show it. */
import { useSyncExternalStore } from "react";
import type { Who } from "@/contract/who";
import { WHO_CHANGED, whoNow } from "./who-now";

function subscribe(hear: () => void): () => void {
  addEventListener(WHO_CHANGED, hear);
  addEventListener("storage", hear);
  return () => {
    removeEventListener(WHO_CHANGED, hear);
    removeEventListener("storage", hear);
  };
}

/** Null in the server's first HTML, which knows no browser. */
export const useWho = (): Who => useSyncExternalStore(subscribe, whoNow, () => null);
