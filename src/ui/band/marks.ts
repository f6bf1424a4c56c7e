/**
 * The drawing language between layout and canvas: plain marks in named inks, and one function that paints
 * them.
 * Coordinates are CSS pixels from the upper left. Inks are names of the theme: day and night are the
 * painter's affair.
 */
import type { Palette } from "../theme/ink";
import type { InkName } from "../theme/system";

export type Mark =
  | {
      readonly kind: "line";
      readonly ink: InkName;
      readonly x1: number;
      readonly y1: number;
      readonly x2: number;
      readonly y2: number;
      readonly width: number;
    }
  | {
      readonly kind: "box";
      readonly ink: InkName;
      readonly x: number;
      readonly y: number;
      readonly w: number;
      readonly h: number;
      /** 0 to 1; 1 when left out. */ readonly alpha?: number;
    }
  | {
      readonly kind: "outline";
      readonly ink: InkName;
      readonly x: number;
      readonly y: number;
      readonly w: number;
      readonly h: number;
      readonly width: number;
    }
  | {
      readonly kind: "dot";
      readonly ink: InkName;
      readonly x: number;
      readonly y: number;
      readonly r: number;
    }
  | {
      readonly kind: "ring";
      readonly ink: InkName;
      readonly x: number;
      readonly y: number;
      readonly r: number;
      readonly width: number;
    }
  | {
      readonly kind: "curve";
      readonly ink: InkName;
      /** x, y, x, y ... */ readonly points: readonly number[];
      readonly width: number;
    }
  | {
      readonly kind: "text";
      readonly ink: InkName;
      readonly x: number;
      readonly y: number;
      readonly text: string;
      readonly align: "left" | "center" | "right";
    };

/** Digits of one width: numbers under the band stand still while it moves. */
const LABEL_FONT = "12px 'Atkinson Hyperlegible Mono Variable', monospace";

export type Canvas2d = CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D;

/** Marks in their order, each over those before. The only place that touches a canvas. */
export function paint(canvas: Canvas2d, marks: readonly Mark[], palette: Palette): void {
  canvas.font = LABEL_FONT;
  canvas.textBaseline = "alphabetic";
  for (const mark of marks) {
    const ink = palette[mark.ink];
    canvas.fillStyle = ink;
    canvas.strokeStyle = ink;
    switch (mark.kind) {
      case "box":
        canvas.globalAlpha = mark.alpha ?? 1;
        canvas.fillRect(mark.x, mark.y, mark.w, mark.h);
        canvas.globalAlpha = 1;
        break;
      case "line":
        canvas.lineWidth = mark.width;
        canvas.beginPath();
        canvas.moveTo(mark.x1, mark.y1);
        canvas.lineTo(mark.x2, mark.y2);
        canvas.stroke();
        break;
      case "outline":
        canvas.lineWidth = mark.width;
        canvas.strokeRect(mark.x, mark.y, mark.w, mark.h);
        break;
      case "dot":
      case "ring":
        canvas.beginPath();
        canvas.arc(mark.x, mark.y, mark.r, 0, 2 * Math.PI);
        if (mark.kind === "dot") canvas.fill();
        else {
          canvas.lineWidth = mark.width;
          canvas.stroke();
        }
        break;
      case "curve":
        canvas.lineWidth = mark.width;
        canvas.beginPath();
        for (let i = 0; i + 1 < mark.points.length; i += 2) {
          if (i === 0) canvas.moveTo(mark.points[0]!, mark.points[1]!);
          else canvas.lineTo(mark.points[i]!, mark.points[i + 1]!);
        }
        canvas.stroke();
        break;
      case "text":
        canvas.textAlign = mark.align;
        canvas.fillText(mark.text, mark.x, mark.y);
    }
  }
}
