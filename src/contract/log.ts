/** How much a line of a log matters. */
export type LogLevel = "info" | "warning" | "error";
