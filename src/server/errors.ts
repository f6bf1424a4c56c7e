/** Expected failures that cross rooms: a stable code, a sentence that a person can act on, perhaps a field. */

export interface FieldFault {
  readonly field: string;
  readonly code: string;
  readonly message: string;
}

export class TallyError extends Error {
  readonly code: string;
  readonly faults: readonly FieldFault[];
  constructor(code: string, message: string, faults: readonly FieldFault[] = [], options?: ErrorOptions) {
    super(message, options);
    this.name = "TallyError";
    this.code = code;
    this.faults = faults;
  }
}

/** The lease is another's now, or has run out: nothing of this attempt may be kept. */
export class LeaseLost extends Error {
  readonly code = "lease-lost";
  constructor() {
    super("The lease of this frame was lost; its work is not kept.");
    this.name = "LeaseLost";
  }
}
