"use client";
/** A labelled field with its fault where one looks, or its hint while it has none. */
import { Field, Input } from "@chakra-ui/react";
import type { ReactNode } from "react";

export interface LabelledProps {
  readonly label: string;
  /** Gives way to the fault. */
  readonly hint?: ReactNode;
  readonly fault?: string | undefined;
  readonly children: ReactNode;
}

export function Labelled({ label, hint, fault, children }: LabelledProps) {
  return (
    <Field.Root invalid={fault !== undefined} minW="0" alignSelf="start">
      <Field.Label fontSize="xs" color="softInk" mb="-0.5" fontWeight="400">
        {label}
      </Field.Label>
      {children}
      {fault === undefined ? (
        hint !== undefined && (
          <Field.HelperText mt="0" color="softInk">
            {hint}
          </Field.HelperText>
        )
      ) : (
        <Field.ErrorText mt="0">{fault}</Field.ErrorText>
      )}
    </Field.Root>
  );
}

/** A line of text. `mono` for names, numbers and paths: one sees each sign. */
export function TextLine({
  label,
  hint,
  fault,
  value,
  onChange,
  isMono = false,
  name,
  placeholder,
}: Omit<LabelledProps, "children"> & {
  readonly value: string;
  readonly onChange: (value: string) => void;
  readonly isMono?: boolean;
  readonly name?: string;
  /** What holds where the field is blank. */
  readonly placeholder?: string;
}) {
  return (
    <Labelled label={label} hint={hint} fault={fault}>
      <Input
        size="xs"
        fontSize="sm"
        px="2"
        bg="sheet"
        {...(isMono ? { fontFamily: "mono" } : {})}
        {...(name === undefined ? {} : { name })}
        {...(placeholder === undefined ? {} : { placeholder })}
        value={value}
        onChange={(event) => onChange(event.target.value)}
      />
    </Labelled>
  );
}
