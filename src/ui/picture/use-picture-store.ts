"use client";
import { useReducer, useState } from "react";
import { PictureStore } from "./picture-store";

/** Decoded pictures of a part of the page, which is drawn anew when one is ready. */
export function usePictureStore(): PictureStore {
  const [, redraw] = useReducer((n: number) => n + 1, 0);
  const [pictures] = useState(() => new PictureStore(redraw));
  return pictures;
}
