/** A fault as it travels to the page: its code, its sentence, and the fields it belongs to. */
export interface ApiError {
  /** A code of the table of faults: pages decide by it, never by the sentence. */
  readonly code: string;
  /** The whole sentence, for people. */
  readonly message: string;
  /** One for each field that is wrong; empty where the fault is of no field. */
  readonly faults: readonly { readonly field: string; readonly code: string; readonly message: string }[];
}
