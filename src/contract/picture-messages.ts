/** Between the viewer and its workers: one picture is fetched and decoded at a time; another may be given up. */
import type { HalfPicture } from "./viewer-picture";

export interface PictureRequest {
  readonly type: "load";
  readonly id: number;
  /** On this server. */
  readonly url: string;
}

/** What nobody waits for any more. */
export interface PictureRefusal {
  readonly type: "drop";
  readonly id: number;
}

/** Decoded: eight bits a channel as the browser holds them, or half floats. */
export type LoadedPixels =
  | {
      readonly kind: "bytes";
      /** Red, green, blue and alpha as they lie in the file. */
      readonly bitmap: ImageBitmap;
      readonly width: number;
      readonly height: number;
      readonly wholeWidth: number;
      readonly wholeHeight: number;
    }
  | ({ readonly kind: "halves" } & HalfPicture);

export type PictureAnswer =
  | { readonly type: "ready" }
  | { readonly type: "loaded"; readonly id: number; readonly pixels: LoadedPixels }
  /** @see isLasting another try would end the same */
  | { readonly type: "failed"; readonly id: number; readonly why: string; readonly isLasting: boolean }
  | { readonly type: "dropped"; readonly id: number };
