/** Expected failures that cross rooms. What each is called and says stands in one table, contract/faults. */
import { type FaultArgs, type FaultCall, type FaultCode, sayFault } from "@/contract/faults";

export interface FieldFault {
  readonly field: string;
  readonly code: string;
  readonly message: string;
}

/**
 * Code and facts in; sentence, status, exit code and blame follow from the table. `faults` point at fields of
 * a form.
 */
export class TallyError extends Error {
  readonly code: FaultCode;
  faults: readonly FieldFault[] = [];

  constructor(...[code, ...facts]: FaultCall) {
    super(sayFault(code, ...(facts as FaultArgs<typeof code>)));
    this.name = "TallyError";
    this.code = code;
  }

  /** Names the field where a person looks. @param message there; the sentence itself when it is left out */
  at(field: string, message = this.message): this {
    return this.with([{ field, code: this.code, message }]);
  }

  with(faults: readonly FieldFault[]): this {
    this.faults = faults;
    return this;
  }

  because(cause: unknown): this {
    this.cause = cause;
    return this;
  }
}

/** A phrase that cannot be read: told where it was typed. */
export const phraseError = (error: { readonly code: string; readonly message: string }): TallyError =>
  new TallyError("phrase-wrong", { message: error.message }).with([{ field: "phrase", ...error }]);

/** The lease is another's now, or has run out: nothing of this attempt may be kept. */
export class LeaseLost extends Error {
  readonly code = "lease-lost";
  constructor() {
    super("The lease of this frame was lost; its work is not kept.");
    this.name = "LeaseLost";
  }
}
