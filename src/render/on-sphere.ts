/** Even chance over the unit sphere. The result stands in one array, so that no ray makes garbage. */
/** What `onSphere` found last. */
export const sphere = new Float64Array(3);

/** A point of the unit sphere, even over its area; it stands in `sphere`. */
export function onSphere(a: number, b: number): void {
  const z = 1 - 2 * a;
  const r = Math.sqrt(Math.max(0, 1 - z * z));
  sphere[0] = r * Math.cos(2 * Math.PI * b);
  sphere[1] = z;
  sphere[2] = r * Math.sin(2 * Math.PI * b);
}
