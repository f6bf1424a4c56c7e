/** What the surface of the viewer is given, and what it gives to those who hold it. */
import type { ReactNode, RefObject } from "react";
import type { LoadedPixels } from "@/contract/picture-messages";
import type { FindingPlace } from "@/contract/sequence-view";
import type { Look, Reading } from "@/core/playback/shown-as";
import type { Wipe } from "@/core/playback/shown-pixel";
import type { Zoom } from "@/core/playback/zoom";
import type { Arrangement } from "./arrangement";
import type { Painted, Painter } from "./gl/painter";
import type { Shown, ShownPicture } from "./player";

export interface SurfaceHandle {
  /** Called by the player on the screen's refresh. */
  readonly show: (shown: Shown) => void;
  /** What is on show, as it is shown. */
  readonly asPicture: () => Promise<Blob | null>;
  /** The first picture that is on show. */
  readonly first: () => Painted | null;
  /** Null where the browser has no WebGL2. */
  readonly painter: () => Painter | null;
  /** Everything to fit again. */
  readonly fit: () => void;
  /** Enlarged around the middle. */
  readonly enlarge: (by: number) => void;
}

/** A pixel of each layer under the pointer. */
export interface Pointed {
  readonly x: number;
  readonly y: number;
  readonly layers: readonly (Painted | null)[];
  /** Reads numbers of a layer's file, as 8-bit integers where it is such. */
  readonly painter: Painter;
}

/** A rectangle on the picture, in parts of it. */
export interface Marked {
  readonly place: FindingPlace;
  readonly label: string;
}

export interface PictureSurfaceProps {
  readonly handle: RefObject<SurfaceHandle | null>;
  /** Pictures that are shown together. */
  readonly layers: number;
  /** The second and the third are the frames before and after the first, and shine through it. */
  readonly isOnion?: boolean;
  /** How the numbers of a layer's picture are read, at a place. The same function as long as nothing changes. */
  readonly readingOf: (layer: number, place: number) => Reading;
  readonly look: Look;
  /** The picture of a `picture` background. */
  readonly behind: LoadedPixels | null;
  readonly arrangement: Arrangement;
  readonly wipe: Wipe;
  readonly onWipe: (wipe: Wipe) => void;
  readonly gain: number;
  /** For screen readers. */
  readonly label: string;
  /** In the place of a picture that there is none of. */
  readonly cardOf: (shown: ShownPicture, place: number) => string | null;
  readonly onPoint: (pointed: Pointed | null) => void;
  /** Kept by whoever opened the viewer: the same crop for every frame. */
  readonly zoom: Zoom;
  readonly onZoom: (zoom: Zoom) => void;
  /** Dragging draws a rectangle, in place of moving the picture. */
  readonly isDrawing: boolean;
  /** What is being drawn, and where findings are. */
  readonly rectangles: readonly Marked[];
  /** What is drawn so far, and whether it is done. */
  readonly onDraw: (place: FindingPlace, isDone: boolean) => void;
  readonly children?: ReactNode;
}
