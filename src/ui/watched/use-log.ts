"use client";
/** A log on its way: its first lines to try patterns on, then all of it, beside the page. */
import { useEffect, useRef, useState } from "react";
import type { ReadLogAnswer, ReadLogRequest } from "@/contract/log-messages";
import type { LogRead } from "@/core/review/log-reader";

/** Of the beginning, to try patterns on. */
const SAMPLE_BYTES = 1 << 16;
export const SAMPLE_LINES = 60;

export type LogState =
  | { readonly step: "none" }
  | { readonly step: "chosen"; readonly file: File; readonly lines: readonly string[] }
  | {
      readonly step: "reading";
      readonly file: File;
      readonly lines: readonly string[];
      readonly bytes: number;
      readonly read: number;
    }
  | {
      readonly step: "read";
      readonly file: File;
      readonly lines: readonly string[];
      readonly result: LogRead;
    }
  | {
      readonly step: "failed";
      readonly file: File;
      readonly lines: readonly string[];
      readonly message: string;
    };

export interface LogWork {
  readonly state: LogState;
  readonly choose: (file: File) => void;
  readonly read: (sources: readonly string[]) => void;
  readonly stop: () => void;
  readonly drop: () => void;
}

export function useLog(): LogWork {
  const [state, setState] = useState<LogState>({ step: "none" });
  const worker = useRef<Worker | null>(null);
  const end = (): void => {
    worker.current?.terminate();
    worker.current = null;
  };
  useEffect(() => end, []);
  return {
    state,
    choose: (file) => {
      end();
      file
        .slice(0, SAMPLE_BYTES)
        .text()
        .then(
          (text) =>
            setState({
              step: "chosen",
              file,
              lines: text
                .split(/\r?\n/)
                .filter((line) => line.trim() !== "")
                .slice(0, SAMPLE_LINES),
            }),
          () => setState({ step: "failed", file, lines: [], message: `${file.name} cannot be read.` }),
        );
    },
    read: (sources) => {
      if (state.step === "none") return;
      const { file, lines } = state;
      end();
      const own = new Worker(new URL("./log-worker.ts", import.meta.url), { type: "module" });
      worker.current = own;
      setState({ step: "reading", file, lines, bytes: 0, read: 0 });
      const fail = (message: string): void => setState({ step: "failed", file, lines, message });
      own.addEventListener("message", ({ data }: MessageEvent<ReadLogAnswer>) => {
        if (worker.current !== own) return;
        if (data.type === "ready") own.postMessage({ type: "read", file, sources } satisfies ReadLogRequest);
        else if (data.type === "so-far")
          setState({ step: "reading", file, lines, bytes: data.bytes, read: data.lines });
        else {
          end();
          if (data.type === "read") setState({ step: "read", file, lines, result: data.read });
          else fail(data.message);
        }
      });
      own.addEventListener("error", (event) => {
        event.preventDefault();
        if (worker.current !== own) return;
        end();
        fail("The log was not read to its end.");
      });
    },
    stop: () => {
      end();
      if (state.step === "reading") setState({ step: "chosen", file: state.file, lines: state.lines });
    },
    drop: () => {
      end();
      setState({ step: "none" });
    },
  };
}
