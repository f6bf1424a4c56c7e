"use client";
/** The options of a renderer of one's own, as its declaration describes them. */
import type { OptionValue } from "@/core/plan/option-value";
import { Field, Flex, Input } from "@chakra-ui/react";
import { optionFaultCode, type RendererOption, withOption } from "@/core/plan/renderer-offer";
import { NumberInput, Remark, Select, Toggle } from "../fields/fields";
import { useShotWork } from "../shot/shot-context";

/** A choice that tells the program nothing. */
const UNSAID = "";

/** What differs from what is usual is kept with the plan; every option decides the picture. */
export function OptionsGroup() {
  const { draft } = useShotWork();
  const { plan, offer, change } = draft;
  return (
    <Flex direction="column" gap="2.5">
      {offer.options.map((option) => (
        <OptionField
          key={option.name}
          option={option}
          value={plan.options[option.name] ?? option.usual}
          fault={draft.optionFaults[optionFaultCode(option.name)]}
          onChange={(value) => change({ options: withOption(plan.options, option, value) })}
        />
      ))}
      <Remark>Another value makes other pictures: frames that are there are then out of date.</Remark>
    </Flex>
  );
}

function OptionField({
  option,
  value,
  fault,
  onChange,
}: {
  readonly option: RendererOption;
  /** Null: the program is told nothing. */
  readonly value: OptionValue | null;
  readonly fault: string | undefined;
  readonly onChange: (value: OptionValue | null) => void;
}) {
  const { label, hint, kind, name } = option;
  return (
    <Field.Root invalid={fault !== undefined} minW="0">
      <Field.Label fontSize="xs" color="softInk" mb="-0.5" fontWeight="400">
        {label}
      </Field.Label>
      {kind.type === "number" && (
        <NumberInput
          name={name}
          value={typeof value === "number" ? value : Number.NaN}
          onChange={(next) => onChange(Number.isNaN(next) ? null : next)}
        />
      )}
      {kind.type === "choice" && (
        <Select
          name={name}
          value={value === null ? UNSAID : String(value)}
          options={[
            ...(option.usual === null ? [[UNSAID, "as the program has it"] as const] : []),
            ...kind.choices.map((c) => [c.value, c.label] as const),
          ]}
          onChange={(next) => onChange(next === UNSAID ? null : next)}
        />
      )}
      {kind.type === "switch" && (
        <Toggle isOn={value === true} onChange={onChange}>
          {value === true ? "on" : "off"}
        </Toggle>
      )}
      {kind.type === "text" && (
        <Input
          size="xs"
          fontSize="sm"
          px="2"
          fontFamily="mono"
          bg="paper"
          autoComplete="off"
          name={name}
          value={typeof value === "string" ? value : ""}
          onChange={(event) => onChange(event.target.value === "" ? null : event.target.value)}
        />
      )}
      {fault === undefined ? (
        hint !== null && (
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
