/** A fault as it travels to the page: its code, its sentence, and the fields it belongs to. */
export interface ApiError {
  readonly code: string;
  readonly message: string;
  readonly faults: readonly { readonly field: string; readonly code: string; readonly message: string }[];
}
