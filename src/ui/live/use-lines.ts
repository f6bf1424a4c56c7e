"use client";
/** Long work on the server that is told while it goes on, one at a time; whoever leaves the page ends it. */
import { useEffect, useRef, useState } from "react";
import { messageOf, postForLines } from "./api";

export interface Lines<M, B> {
  readonly isGoing: boolean;
  /** What was told last; null before the first line, and once it was stopped. */
  readonly last: M | null;
  /** Why it could not be asked, or was cut off. */
  readonly error: string | null;
  readonly start: (body: B) => void;
  readonly stop: () => void;
}

const IDLE = { isGoing: false, last: null, error: null } as const;

export function useLines<M extends object, B extends object>(address: string): Lines<M, B> {
  const [state, setState] = useState<Pick<Lines<M, B>, "isGoing" | "last" | "error">>(IDLE);
  const going = useRef<AbortController | null>(null);
  useEffect(() => () => going.current?.abort(), []);

  const stop = (): void => {
    going.current?.abort();
    going.current = null;
    setState(IDLE);
  };
  const start = (body: B): void => {
    going.current?.abort();
    const control = new AbortController();
    going.current = control;
    const isOurs = (): boolean => going.current === control && !control.signal.aborted;
    setState({ ...IDLE, isGoing: true });
    postForLines<M>(
      address,
      body,
      (last) => isOurs() && setState({ isGoing: true, last, error: null }),
      control.signal,
    ).then(
      () => isOurs() && setState((s) => ({ ...s, isGoing: false })),
      (error: unknown) => isOurs() && setState({ ...IDLE, error: messageOf(error) }),
    );
  };
  return { ...state, start, stop };
}
