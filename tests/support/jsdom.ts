/** What jsdom lacks of a browser and the components ask for. */
import { TextDecoder, TextEncoder } from "node:util";
import v8 from "node:v8";

Object.assign(globalThis, {
  TextDecoder,
  TextEncoder,
  structuredClone: (value: unknown): unknown => v8.deserialize(v8.serialize(value)),
  ResizeObserver: class {
    observe(): void {}
    unobserve(): void {}
    disconnect(): void {}
  },
});
window.matchMedia = (query: string) =>
  ({
    // A low window: the page as most people have it.
    matches: query.includes("max-height"),
    media: query,
    addEventListener: () => undefined,
    removeEventListener: () => undefined,
  }) as unknown as MediaQueryList; // Only what is asked of it here.
Object.defineProperty(document, "fonts", { value: { ready: Promise.resolve() } });
HTMLCanvasElement.prototype.getContext = () => null;
