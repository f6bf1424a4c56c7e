"use client";
/** Ledger lines of a list or an edit, before they are made: what is new, what changes, what is wrong. */
import { Box, Grid, Text } from "@chakra-ui/react";
import type { EditImport, ShotImport, ShotLineView } from "@/contract/shot-import";
import { count, listed } from "../words";
import { lineText, neededText } from "./words";

/** A list of hundreds is read in parts; what is wrong always stands first. */
const SHOWN = 200;

type Kind = "made" | "changed" | "unchanged";
const COLOUR: Readonly<Record<Kind, string>> = { made: "petrol", changed: "ochre", unchanged: "softInk" };

function Line({ kind, line }: { readonly kind: Kind; readonly line: ShotLineView }) {
  return (
    <Grid
      as="li"
      data-testid={`line-${kind}`}
      templateColumns="48px 130px minmax(0, 1fr) 130px minmax(0, 1.4fr)"
      gap="3"
      py="0.5"
      borderTopWidth="1px"
      borderColor="rule"
      fontSize="sm"
    >
      <Text color="softInk" className="figures" textAlign="right">
        {line.line ?? ""}
      </Text>
      <Text fontFamily="mono" truncate>
        {line.code}
      </Text>
      <Text truncate title={line.title}>
        {line.title}
      </Text>
      <Text fontFamily="mono" className="figures">
        {line.first}-{line.last}
      </Text>
      <Text color={COLOUR[kind]}>
        {lineText(kind, line)}
        {kind === "made" && (
          <Text as="span" color="softInk" fontFamily="mono" fontSize="xs">
            {" "}
            {line.scene}
          </Text>
        )}
      </Text>
    </Grid>
  );
}

const isEdit = (brought: ShotImport | EditImport): brought is EditImport => "needed" in brought;

export function ImportLines({ brought }: { readonly brought: ShotImport | EditImport }) {
  const { made, changed, unchanged, wrong } = brought;
  const lines = (["made", "changed", "unchanged"] as const).flatMap((kind) =>
    brought[kind].map((line) => ({ kind, line })),
  );
  return (
    <Box mt="3">
      <Text className="figures" fontSize="md">
        {count(made.length)} new, {count(changed.length)} changed, {count(unchanged.length)} as they are,{" "}
        <Text as="span" color={wrong.length > 0 ? "brick" : "inherit"}>
          {count(wrong.length)} wrong
        </Text>
        .
      </Text>
      {isEdit(brought) && (
        <Box fontSize="sm" mt="1">
          {brought.needed.map((needed) => (
            <Text key={needed.code} color={needed.missing > 0 ? "ochre" : "softInk"}>
              {neededText(needed)}.
            </Text>
          ))}
          {brought.sound.length > 0 && (
            <Text color="softInk" lineClamp={2} title={brought.sound.join("\n")}>
              Its sound is kept with the edit: {listed(brought.sound)}.
            </Text>
          )}
          {brought.shorter.length > 0 && (
            <Text color="softInk">Less is shown of {listed(brought.shorter)}; nothing is taken away.</Text>
          )}
          {brought.gone.length > 0 && (
            <Text color="softInk">No longer in the edit: {listed(brought.gone)}. They stay as they are.</Text>
          )}
        </Box>
      )}
      {wrong.length > 0 && (
        <Box as="ul" role="alert" listStyleType="none" color="brick" fontSize="sm" mt="1">
          {wrong.slice(0, SHOWN).map(({ line, message }, i) => (
            <li key={i}>
              {line === null ? "" : `Line ${line}: `}
              {message}
            </li>
          ))}
        </Box>
      )}
      <Box as="ul" listStyleType="none" mt="2" aria-label="What will be made">
        {lines.slice(0, SHOWN).map(({ kind, line }) => (
          <Line key={line.code} kind={kind} line={line} />
        ))}
      </Box>
      {lines.length > SHOWN && (
        <Text color="softInk" fontSize="sm">
          and {count(lines.length - SHOWN)} more lines
        </Text>
      )}
    </Box>
  );
}
