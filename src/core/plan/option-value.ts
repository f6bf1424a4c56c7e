/** The value of an option that a renderer declares: what kinds there are, its offer says. */
export type OptionValue = string | number | boolean;
