/**
 * Pages come with their data: what a page asks first is read on the server and stands in its first
 * HTML, so that nothing flashes. What cannot be read is left out; the page asks for it itself, says
 * what is the matter, and goes on when it is over.
 */
import { dehydrate, HydrationBoundary, QueryClient } from "@tanstack/react-query";
import type { ReactNode } from "react";

export interface FirstData<T> {
  /** Of the page's own question, so that it is not asked again at once. */
  readonly key: readonly unknown[];
  /** Called on the server, for each request. */
  readonly read: () => Promise<T>;
}

/** @returns the page, and what was read; undefined in place of what could not be */
export async function withData<T>(
  wanted: readonly FirstData<T>[],
  page: ReactNode,
): Promise<readonly [ReactNode, readonly (T | undefined)[]]> {
  const client = new QueryClient();
  const known: (T | undefined)[] = [];
  for (const { key, read } of wanted) {
    const data = await read().catch(() => undefined);
    known.push(data);
    if (data !== undefined) client.setQueryData(key, data);
  }
  return [
    <HydrationBoundary key="page" state={dehydrate(client)}>
      {page}
    </HydrationBoundary>,
    known,
  ];
}
