"use client";
/** A look at a folder while it goes on: how far it is, what it found, or what is wrong. One at a time. */
import { useEffect, useRef, useState } from "react";
import type { FoundFolderView, LookMessage, PointedFolder } from "@/contract/take-in";
import { messageOf, postForLines, projectApi } from "../live/api";

export type LookState =
  | { readonly state: "idle" }
  | { readonly state: "looking"; readonly folders: number; readonly files: number }
  | { readonly state: "found"; readonly found: FoundFolderView }
  | { readonly state: "wrong"; readonly message: string };

export interface LookAtFolder {
  readonly look: LookState;
  readonly start: (folder: PointedFolder) => void;
  readonly stop: () => void;
}

export function useLook(project: string): LookAtFolder {
  const [look, setLook] = useState<LookState>({ state: "idle" });
  const going = useRef<AbortController | null>(null);
  const stop = (): void => {
    going.current?.abort();
    going.current = null;
    setLook({ state: "idle" });
  };
  // Whoever leaves the page waits for nothing.
  useEffect(() => () => going.current?.abort(), []);

  const start = (folder: PointedFolder): void => {
    going.current?.abort();
    const control = new AbortController();
    going.current = control;
    setLook({ state: "looking", folders: 0, files: 0 });
    const hear = (message: LookMessage): void => {
      if (going.current !== control) return;
      if (message.type === "so-far")
        setLook({ state: "looking", folders: message.folders, files: message.files });
      else if (message.type === "found") setLook({ state: "found", found: message.found });
      else setLook({ state: "wrong", message: message.message });
    };
    postForLines<LookMessage>(`${projectApi(project)}/take-in/look`, folder, hear, control.signal).catch(
      (error: unknown) => {
        if (going.current === control && !control.signal.aborted)
          setLook({ state: "wrong", message: messageOf(error) });
      },
    );
  };
  return { look, start, stop };
}
