"use client";
/**
 * Styles that the server makes go into the page's head and not between its elements, where the
 * browser's React would find elements that it did not make. (The pattern that Next's guide for
 * CSS-in-JS libraries gives.)
 */
import createCache, { type EmotionCache } from "@emotion/cache";
import { CacheProvider } from "@emotion/react";
import { useServerInsertedHTML } from "next/navigation";
import { type ReactNode, useState } from "react";

interface Registry {
  /** Shared by all components of one document. */
  readonly cache: EmotionCache;
  /** Names of the styles made since the last call. */
  readonly flush: () => readonly string[];
}

function makeRegistry(): Registry {
  const cache = createCache({ key: "css" });
  cache.compat = true;
  const insert = cache.insert;
  let fresh: string[] = [];
  cache.insert = (...args) => {
    const { name } = args[1];
    if (cache.inserted[name] === undefined) fresh.push(name);
    return insert(...args);
  };
  return {
    cache,
    flush: () => {
      const names = fresh;
      fresh = [];
      return names;
    },
  };
}

/** One a document on the server; in the browser it takes over what is there. */
export function EmotionRegistry({ children }: { readonly children: ReactNode }) {
  const [{ cache, flush }] = useState(makeRegistry);
  useServerInsertedHTML(() => {
    const names = flush();
    if (names.length === 0) return null;
    const styles = names
      .map((name) => cache.inserted[name])
      .filter((style) => typeof style === "string")
      .join("");
    return (
      <style
        key={cache.key}
        data-emotion={`${cache.key} ${names.join(" ")}`}
        dangerouslySetInnerHTML={{ __html: styles }}
      />
    );
  });
  return <CacheProvider value={cache}>{children}</CacheProvider>;
}
