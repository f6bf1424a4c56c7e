"use client";
/**
 * Fields of the plan's draft: each shows its fault where one looks, and keeps what was typed.
 * A field knows its key in the plan and nothing of the bench that it stands on. Faults come from the one
 * reader of plans (core/plan), at each key; what cannot be read stays as it was typed, and saving waits.
 */
import { Box, Checkbox, Flex, Input, NativeSelect, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";
import type { Plan } from "@/core/plan/plan";
import { Labelled } from "../page/field";
import { useShotWork } from "../shot/shot-context";

export interface EntryProps {
  /** Whose fault is shown; it may stand at several controls. */
  readonly field: keyof Plan;
  readonly label: string;
  /** Gives way to the fault. */
  readonly hint?: ReactNode;
  readonly children: ReactNode;
}

/** A labelled field with its fault, or its hint while it has none. */
export function Entry({ field, label, hint, children }: EntryProps) {
  const { faults } = useShotWork().draft;
  return (
    <Labelled label={label} hint={hint} fault={faults[field]}>
      {children}
    </Labelled>
  );
}

/** The same for several controls under one label: each has a name of its own. */
export function EntryGroup({ field, label, hint, children }: EntryProps) {
  const { faults } = useShotWork().draft;
  const fault = faults[field];
  return (
    <Box role="group" aria-label={label} minW="0" w="full" alignSelf="start">
      <Text fontSize="xs" color="softInk" mb="0.5">
        {label}
      </Text>
      {children}
      {fault === undefined ? (
        hint !== undefined && (
          <Text fontSize="xs" color="softInk" mt="1">
            {hint}
          </Text>
        )
      ) : (
        <Text fontSize="xs" color="brick" role="alert" mt="1">
          {fault}
        </Text>
      )}
    </Box>
  );
}

/** Settings that are plain numbers. */
type NumberFieldName = { [K in keyof Plan]: Plan[K] extends number ? K : never }[keyof Plan];
/** Settings that are free texts: not those that are one of a few words. */
type TextFieldName = {
  [K in keyof Plan]: Plan[K] extends string ? (string extends Plan[K] ? K : never) : never;
}[keyof Plan];

export interface NumberInputProps {
  /** NaN is a blank field. */
  readonly value: number;
  readonly onChange: (value: number) => void;
  /** Where no label stands beside it. */
  readonly label?: string;
  /** Of the arrow keys; `any` lets every number be typed. */
  readonly step?: number | "any";
  readonly isDisabled?: boolean;
  /** The setting's, by which tests and password managers know the field. */
  readonly name?: string;
}

/** A blank field is NaN: the fault says so, and nothing is filled in behind one's back. */
export function NumberInput({
  value,
  onChange,
  label,
  name,
  step = "any",
  isDisabled = false,
}: NumberInputProps) {
  return (
    <Input
      size="xs"
      fontSize="sm"
      px="2"
      type="number"
      step={step}
      fontFamily="mono"
      bg="paper"
      disabled={isDisabled}
      {...(label === undefined ? {} : { "aria-label": label })}
      {...(name === undefined ? {} : { name })}
      value={Number.isNaN(value) ? "" : value}
      onChange={(event) => onChange(event.target.valueAsNumber)}
    />
  );
}

/** A number of the plan. Bounds are judged by core/plan, so that pages and programs refuse alike. */
export function NumberField({
  field,
  label,
  hint,
}: {
  readonly field: NumberFieldName;
  readonly label: string;
  readonly hint?: ReactNode;
}) {
  const { plan, change } = useShotWork().draft;
  return (
    <Entry field={field} label={label} hint={hint}>
      <NumberInput name={field} value={plan[field]} onChange={(value) => change({ [field]: value })} />
    </Entry>
  );
}

/** A text of the plan, in the typeface in which one sees each sign. */
export function TextField({
  field,
  label,
  hint,
}: {
  readonly field: TextFieldName;
  readonly label: string;
  readonly hint?: ReactNode;
}) {
  const { plan, change } = useShotWork().draft;
  return (
    <Entry field={field} label={label} hint={hint}>
      <Input
        size="xs"
        fontSize="sm"
        px="2"
        fontFamily="mono"
        bg="paper"
        autoComplete="off"
        name={field}
        value={plan[field]}
        onChange={(event) => change({ [field]: event.target.value })}
      />
    </Entry>
  );
}

export interface SelectProps<K extends string> {
  readonly value: K;
  /** In the order in which they are shown. */
  readonly options: readonly (readonly [key: K, text: string])[];
  readonly onChange: (value: K) => void;
  /** Where no label stands beside it. */
  readonly label?: string;
  readonly name?: string;
}

/** One of a few; the browser's own, so that keys and phones work as everywhere. */
export function Select<K extends string>({ value, options, onChange, label, name }: SelectProps<K>) {
  return (
    <NativeSelect.Root size="xs">
      <NativeSelect.Field
        {...(label === undefined ? {} : { "aria-label": label })}
        {...(name === undefined ? {} : { name })}
        value={value}
        onChange={(event) => onChange(event.target.value as K)}
        bg="paper"
        fontSize="sm"
      >
        {options.map(([key, text]) => (
          <option key={key} value={key}>
            {text}
          </option>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  );
}

/** On or off, with its label as the thing to click. */
export function Toggle({
  isOn,
  onChange,
  children,
  isDisabled = false,
}: {
  readonly isOn: boolean;
  readonly onChange: (isOn: boolean) => void;
  readonly children: ReactNode;
  readonly isDisabled?: boolean;
}) {
  return (
    <Checkbox.Root
      size="sm"
      checked={isOn}
      disabled={isDisabled}
      onCheckedChange={(details) => onChange(details.checked === true)}
    >
      <Checkbox.HiddenInput />
      <Checkbox.Control borderColor="ink" />
      <Checkbox.Label fontWeight="400">{children}</Checkbox.Label>
    </Checkbox.Root>
  );
}

/** Running text under fields, for what a group has to say. */
export function Remark({ children }: { readonly children: ReactNode }) {
  return (
    <Box gridColumn="1 / -1" color="softInk" fontSize="xs">
      {children}
    </Box>
  );
}

/** Fields side by side, equally wide. */
export function Two({ children }: { readonly children: ReactNode }) {
  return (
    <Flex gap="3" align="flex-start" css={{ "& > *": { flex: "1 1 0" } }}>
      {children}
    </Flex>
  );
}
