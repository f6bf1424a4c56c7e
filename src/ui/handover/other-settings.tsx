"use client";
/** Settings of contact sheets and of copies. */
import { Grid } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { type CopyFormat, type CopySettings, type SheetSettings } from "@/core/handover/wish";
import { NumberInput, Select, Toggle } from "../fields/fields";
import { Labelled, TextLine } from "../page/field";
import { ShownFields } from "./shown-fields";

function Row({ children }: { readonly children: ReactNode }) {
  return (
    <Grid templateColumns="repeat(auto-fill, minmax(132px, 1fr))" gap="3" mb="2">
      {children}
    </Grid>
  );
}

export function SheetFields({
  sheet,
  onChange,
  faults,
}: {
  readonly sheet: SheetSettings;
  readonly onChange: (sheet: SheetSettings) => void;
  readonly faults: Readonly<Record<string, string>>;
}) {
  return (
    <Row>
      <Labelled label="Columns" fault={faults.columns}>
        <NumberInput
          label="Columns"
          step={1}
          value={sheet.columns}
          onChange={(columns) => onChange({ ...sheet, columns })}
        />
      </Labelled>
      <Labelled label="As">
        <Select
          label="Kind of sheet"
          value={sheet.format}
          options={[
            ["png", "one picture (PNG)"],
            ["pdf", "pages (PDF)"],
          ]}
          onChange={(format) => onChange({ ...sheet, format })}
        />
      </Labelled>
      <Labelled label="Under each">
        <Toggle isOn={sheet.hasCaptions} onChange={(hasCaptions) => onChange({ ...sheet, hasCaptions })}>
          its number
        </Toggle>
      </Labelled>
    </Row>
  );
}

const FORMATS: readonly (readonly [CopyFormat, string])[] = [
  ["same", "as they are"],
  ["png8", "PNG, 8 bits"],
  ["jpeg", "JPEG"],
];

export function CopyFields({
  copy,
  onChange,
  faults,
  isLinear,
}: {
  /** Their files hold scene light: converted, it is shown through a view. */
  readonly isLinear: boolean;
  readonly copy: CopySettings;
  readonly onChange: (copy: CopySettings) => void;
  readonly faults: Readonly<Record<string, string>>;
}) {
  const orNull = (value: number): number | null => (Number.isNaN(value) ? null : value);
  return (
    <Row>
      <Labelled label="Files">
        <Select
          label="Kind of copies"
          value={copy.format}
          options={FORMATS}
          onChange={(format) => onChange({ ...copy, format })}
        />
      </Labelled>
      <Labelled label="First number" hint="blank: as they are" fault={faults.from}>
        <NumberInput
          label="First number"
          step={1}
          value={copy.from ?? NaN}
          onChange={(from) => onChange({ ...copy, from: orNull(from) })}
        />
      </Labelled>
      <Labelled label="Digits" hint="blank: as they are" fault={faults.digits}>
        <NumberInput
          label="Digits"
          step={1}
          value={copy.digits ?? NaN}
          onChange={(digits) => onChange({ ...copy, digits: orNull(digits) })}
        />
      </Labelled>
      <TextLine
        label="Name"
        hint="before the number"
        placeholder="as it is"
        fault={faults.name}
        isMono
        value={copy.name}
        onChange={(name) => onChange({ ...copy, name })}
      />
      {isLinear && copy.format !== "same" && (
        <ShownFields
          shown={copy}
          onChange={(shown) => onChange({ ...copy, ...shown })}
          fault={faults.stops}
        />
      )}
    </Row>
  );
}
