/** Lines of a list are told apart by a dotted rule below each. */
export const UNDERLINED = { borderBottomWidth: "1px", borderStyle: "dotted", borderColor: "rule" } as const;
